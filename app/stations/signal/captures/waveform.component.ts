import {ChangeDetectionStrategy, Component, computed, input} from '@angular/core';
import type {WireTime} from '@core/dshot/wire-time';
import type {Edge} from '@core/dshot/waveform';

/** Width and heights of the drawing, in its own units. */
const [width, high, low, axis] = [1000, 16, 62, 74];
/** Rest that is drawn before and after, µs. */
const restUs = 6;

/** The levels of a frame over time, with command, pause and reply marked below. */
@Component({
  selector: 'bx-waveform',
  template: `
    <svg viewBox="0 0 1000 96" role="img" [attr.aria-label]="label()">
      @for (tick of ticks(); track tick) {
        <line class="tick" [attr.x1]="x(tick)" [attr.x2]="x(tick)" y1="8" [attr.y2]="axis + 4" />
        <text [attr.x]="x(tick)" [attr.y]="axis + 18" text-anchor="middle">{{ tick }} µs</text>
      }
      <rect class="command" [attr.x]="x(0)" [attr.y]="axis - 4" [attr.width]="x(times().commandUs) - x(0)" height="4" />
      @if (times().replyUs) {
        <rect
          class="reply"
          [attr.x]="x(times().commandUs + times().pauseUs)"
          [attr.y]="axis - 4"
          [attr.width]="x(times().totalUs) - x(times().commandUs + times().pauseUs)"
          height="4"
        />
      }
      <path [attr.d]="path()" />
    </svg>
  `,
  styles: `
    svg {
      width: 100%;
      height: auto;
      background: var(--sheet);
      border: 1px solid var(--rule);
      margin: var(--s3) 0;
    }
    path {
      fill: none;
      stroke: var(--ink);
      stroke-width: 1.6;
      vector-effect: non-scaling-stroke;
    }
    .tick {
      stroke: var(--rule);
    }
    text {
      font-family: var(--mono);
      font-size: var(--fs-axis);
      fill: var(--ink-2);
    }
    .command {
      fill: var(--petrol);
    }
    .reply {
      fill: var(--plum);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WaveformComponent {
  readonly edges = input.required<readonly Edge[]>();
  /** Level at rest. */
  readonly rest = input.required<0 | 1>();
  readonly times = input.required<WireTime>();

  protected readonly axis = axis;
  protected readonly label = computed(
    () => `Levels of ${this.edges().length} edges over ${this.times().totalUs.toFixed(1)} microseconds`,
  );
  protected readonly ticks = computed(() => {
    const step = this.times().totalUs > 120 ? 20 : this.times().totalUs > 50 ? 10 : 5;
    return Array.from({length: Math.floor(this.times().totalUs / step) + 1}, (_, i) => i * step);
  });
  protected readonly path = computed(() => {
    let y = this.y(this.rest());
    let d = `M0 ${y}`;
    for (const {us, level} of this.edges()) {
      const at = this.x(us).toFixed(2);
      d += `H${at}V${(y = this.y(level))}`;
    }
    return `${d}H${width}`;
  });

  protected x = (us: number): number => ((us + restUs) / (this.times().totalUs + 2 * restUs)) * width;
  private y = (level: 0 | 1): number => (level ? high : low);
}
