import {ChangeDetectionStrategy, Component, computed, input} from '@angular/core';
import {inRoom, type Attitude} from '@core/arming/attitude';
import type {Vector} from '@core/arming/rotation';
import type {Arm} from '@core/craft/craft';

/** Half the drawing, px; the eye stands behind the craft and above it, degrees. */
const [half, reach, above] = [150, 112, 24];
const [ca, sa] = [Math.cos((above * Math.PI) / 180), Math.sin((above * Math.PI) / 180)];

interface Point {
  readonly x: number;
  readonly y: number;
}

/** Seen from behind and above: what lies ahead is higher up. */
const seen = ([forward, right, down]: Vector): Point => ({
  x: half + right * reach,
  y: half + (down * ca - forward * sa) * reach,
});

/** The craft as it is held now, seen from behind: arms, propeller discs, nose, and the level it is held against. */
@Component({
  selector: 'bx-attitude-drawing',
  template: `
    <svg viewBox="0 0 300 262" role="img" [attr.aria-label]="label()">
      <path class="level" [attr.d]="level" />
      <line class="level" x1="8" y1="150" x2="292" y2="150" />
      @if (shape(); as s) {
        @for (arm of s.arms; track $index) {
          <path class="disc" [class.front]="arm.front" [attr.d]="arm.disc" />
          <line class="arm" [class.front]="arm.front" x1="150" y1="150" [attr.x2]="arm.at.x" [attr.y2]="arm.at.y" />
        }
        <path class="nose" [attr.d]="s.nose" />
      } @else {
        <text x="150" y="120" text-anchor="middle">nothing is measured</text>
      }
    </svg>
  `,
  styles: `
    svg {
      width: 100%;
      max-width: 420px;
      display: block;
      background: var(--sheet);
      border: 1px solid var(--rule);
    }
    .level {
      fill: none;
      stroke: var(--edge);
      stroke-dasharray: 3 4;
    }
    .disc {
      fill: var(--tint);
      stroke: var(--ink-2);
    }
    .disc.front {
      fill: var(--petrol-soft);
      stroke: var(--petrol);
    }
    .arm {
      stroke: var(--ink-2);
      stroke-width: 4;
    }
    .arm.front {
      stroke: var(--petrol);
    }
    .nose {
      fill: var(--petrol);
    }
    text {
      fill: var(--ink-2);
      font: var(--fs-small) var(--sans);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AttitudeDrawingComponent {
  readonly arms = input.required<readonly Arm[]>();
  /** Undefined while nothing is measured. */
  readonly attitude = input.required<Attitude | undefined>();

  protected readonly level = ring([0, 0, 0], 1.08, {rollDeg: 0, pitchDeg: 0});
  protected readonly label = computed(() => {
    const held = this.attitude();
    return held
      ? `The craft from behind: ${Math.abs(held.rollDeg).toFixed(0)}° ${held.rollDeg < 0 ? 'left' : 'right'} side down, nose ${Math.abs(held.pitchDeg).toFixed(0)}° ${held.pitchDeg < 0 ? 'down' : 'up'}`
      : 'The craft; nothing is measured';
  });
  protected readonly shape = computed(() => {
    const held = this.attitude();
    if (!held) return undefined;
    const arms = this.arms();
    const longest = Math.max(1, ...arms.map((a) => Math.hypot(a.xMm, a.yMm)));
    const scale = 0.78 / longest;
    return {
      arms: arms.map(({xMm, yMm}) => {
        const at: Vector = [yMm * scale, xMm * scale, -0.03];
        return {at: seen(inRoom(at, held)), disc: ring(at, 0.24, held), front: yMm > 0};
      }),
      nose: path(
        [[0.5, 0, 0] as const, [0.14, -0.14, 0] as const, [0.14, 0.14, 0] as const].map((p) => seen(inRoom(p, held))),
      ),
    };
  });
}

const path = (points: readonly Point[]): string =>
  `M${points.map(({x, y}) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}Z`;

/** A circle in the plane of the craft. */
function ring([f, r, d]: Vector, radius: number, held: Attitude): string {
  const around = Array.from({length: 36}, (_, i) => (i * Math.PI) / 18);
  return path(around.map((a) => seen(inRoom([f + radius * Math.cos(a), r + radius * Math.sin(a), d], held))));
}
