import {ChangeDetectionStrategy, Component, computed, input, output} from '@angular/core';
import type {Arm, RotationSense} from '@core/craft/craft';

/** How one arm is drawn. */
export interface DrawnArm {
  readonly sense: RotationSense | undefined;
  readonly label: string;
  readonly state: 'open' | 'ok' | 'diff' | 'asked';
}

export interface ArmAnswer {
  readonly arm: number;
  readonly sense: RotationSense;
}

const size = 452;

/** The craft from above, drawn from its arm positions; arms can be answered by the half that was clicked. */
@Component({
  selector: 'bx-craft-drawing',
  templateUrl: './craft-drawing.component.svg',
  styleUrl: './craft-drawing.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CraftDrawingComponent {
  readonly name = input.required<string>();
  readonly aside = input('');
  readonly arms = input.required<readonly Arm[]>();
  readonly drawn = input.required<readonly DrawnArm[]>();
  /** Whether the halves of every arm wait for an answer. */
  readonly asking = input(false);
  readonly answered = output<ArmAnswer>();

  protected readonly places = computed(() => {
    const arms = this.arms();
    const reach = Math.max(...arms.map((a) => Math.max(Math.abs(a.xMm), Math.abs(a.yMm))));
    const nearest = Math.min(
      ...arms.flatMap((a, i) => arms.slice(i + 1).map((b) => Math.hypot(a.xMm - b.xMm, a.yMm - b.yMm))),
    );
    // The largest scale at which the outermost discs stay inside; discs keep clear of their neighbours.
    const radiusAt = (scale: number) => Math.max(30, Math.min(74, (nearest * scale) / 2 - 8));
    let scale = 4;
    while (reach * scale + radiusAt(scale) > 204) scale *= 0.99;
    const radius = radiusAt(scale);
    return arms.map((arm, i) => {
      const [x, y] = [size / 2 + arm.xMm * scale, size / 2 - arm.yMm * scale];
      const drawn = this.drawn()[i]!;
      return {
        i,
        x,
        y,
        r: radius,
        name: arm.name,
        ...drawn,
        arc: arc(x, y, radius * 0.8, drawn.sense),
        left: half(x, y, radius, -1),
        right: half(x, y, radius, 1),
      };
    });
  });

  protected answer(arm: number, sense: RotationSense): void {
    this.answered.emit({arm, sense});
  }
}

function arc(x: number, y: number, r: number, sense: RotationSense | undefined): string {
  const [dx, dy] = [r * 0.78, r * 0.63];
  if (sense === 'clockwise') return `M${x - dx} ${y - dy}A${r} ${r} 0 0 1 ${x + dx} ${y - dy}`;
  return `M${x + dx} ${y - dy}A${r} ${r} 0 0 0 ${x - dx} ${y - dy}`;
}

const half = (x: number, y: number, r: number, side: 1 | -1) =>
  `M${x} ${y - r}A${r} ${r} 0 0 ${side === 1 ? 1 : 0} ${x} ${y + r}Z`;
