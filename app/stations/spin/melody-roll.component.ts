import {ChangeDetectionStrategy, Component, computed, input} from '@angular/core';
import {melodyMs, noteMs, pitchName, type Melody} from '@core/sounds/rtttl';

interface Bar {
  readonly x: number;
  readonly y: number;
  readonly width: number;
}

const rowPx = 7;

/** A melody as a piano roll: time to the right, pitch upwards; the rows of the black keys are shaded. */
@Component({
  selector: 'bx-melody-roll',
  template: `
    <svg
      [attr.viewBox]="'0 0 1000 ' + roll().height"
      [style.height.px]="roll().height"
      preserveAspectRatio="none"
      role="img"
      [attr.aria-label]="spoken()"
    >
      @for (row of roll().rows; track row.y) {
        <rect x="0" [attr.y]="row.y" width="1000" [attr.height]="rowPx" [attr.class]="row.black ? 'black' : 'white'" />
      }
      @for (bar of roll().bars; track $index) {
        <rect [attr.x]="bar.x" [attr.y]="bar.y + 1" [attr.width]="bar.width" [attr.height]="rowPx - 2" class="note" />
      }
    </svg>
    <p class="quiet">
      <span>{{ roll().low }} to {{ roll().high }}</span
      ><span class="n">{{ (ms() / 1000).toFixed(1) }} s</span>
    </p>
  `,
  styles: `
    svg {
      display: block;
      width: 100%;
      max-height: 190px;
      border: 1px solid var(--rule);
      background: var(--sheet);
    }
    .white {
      fill: var(--sheet);
    }
    .black {
      fill: var(--tint);
    }
    .note {
      fill: var(--petrol);
    }
    p {
      display: flex;
      justify-content: space-between;
      font-size: var(--fs-note);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MelodyRollComponent {
  readonly melody = input.required<Melody>();
  protected readonly rowPx = rowPx;
  protected readonly ms = computed(() => melodyMs(this.melody()));
  protected readonly roll = computed(() => {
    const melody = this.melody();
    const pitches = melody.notes.flatMap((n) => (n.pitch === undefined ? [] : [n.pitch]));
    const [low, high] = [Math.min(...pitches, 72) - 1, Math.max(...pitches, 76) + 1];
    const yOf = (pitch: number) => (high - pitch) * rowPx;
    const perMs = 1000 / Math.max(1, this.ms());
    let at = 0;
    const bars = melody.notes.flatMap((note): Bar[] => {
      const [x, width] = [at * perMs, noteMs(melody, note) * perMs];
      at += noteMs(melody, note);
      return note.pitch === undefined ? [] : [{x, y: yOf(note.pitch), width: Math.max(2, width - 2)}];
    });
    const rows = Array.from({length: high - low + 1}, (_, i) => ({
      y: i * rowPx,
      black: [1, 3, 6, 8, 10].includes((high - i) % 12),
    }));
    return {bars, rows, height: rows.length * rowPx, low: pitchName(low + 1), high: pitchName(high - 1)};
  });
  protected readonly spoken = computed(() =>
    this.melody()
      .notes.map((n) => (n.pitch === undefined ? 'pause' : pitchName(n.pitch)))
      .join(', '),
  );
}
