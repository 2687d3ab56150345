import {booleanAttribute, ChangeDetectionStrategy, Component, computed, input, output, signal} from '@angular/core';
import type {Arm, RotationDirection} from '@core/craft/craft';
import type {DrawnArm} from '@core/sheets/spin/spin-order';

export interface ArmAnswer {
  readonly arm: number;
  readonly sense: RotationDirection;
}

interface ArmMove {
  readonly arm: number;
  readonly xMm: number;
  readonly yMm: number;
}

/** The arm in hand: the scale the drawing had when it was taken, and where on it the pointer took it, mm. */
interface ArmInHand extends ArmMove {
  readonly scale: number;
  readonly held: Point;
}

interface Point {
  readonly x: number;
  readonly y: number;
}

const size = 452;
/** Farthest an arm may lie from the centre, mm. */
const maxMm = 2000;

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
  /** Half as large: numbers alone, in letters that are read at that size. */
  readonly small = input(false, {transform: booleanAttribute});
  readonly arms = input.required<readonly Arm[]>();
  readonly drawn = input.required<readonly DrawnArm[]>();
  /** Whether the halves of every arm wait for an answer. */
  readonly asking = input(false);
  readonly answered = output<ArmAnswer>();
  /** Whether arms can be dragged, or moved with the arrow keys. */
  readonly movable = input(false);
  readonly moved = output<ArmMove>();
  private readonly inHand = signal<ArmInHand | undefined>(undefined);

  protected readonly places = computed(() => {
    const inHand = this.inHand();
    const arms = this.arms().map((a, i) => (i === inHand?.arm ? {...a, ...inHand} : a));
    const reach = Math.max(...arms.map((a) => Math.max(Math.abs(a.xMm), Math.abs(a.yMm))));
    const nearest = Math.min(
      ...arms.flatMap((a, i) => arms.slice(i + 1).map((b) => Math.hypot(a.xMm - b.xMm, a.yMm - b.yMm))),
    );
    // The largest scale at which the outermost discs stay inside; discs keep clear of their neighbours.
    const radiusAt = (scale: number) => Math.max(30, Math.min(74, (nearest * scale) / 2 - 8));
    let scale = 4;
    while (reach * scale + radiusAt(scale) > 204) scale *= 0.99;
    // The sheet does not grow under the hand.
    scale = inHand?.scale ?? scale;
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
        scale,
        nameY: y + nameOffset(y, radius),
        sideY: y + sideOffset(x, y),
        middle: middleOf(y, radius),
        where: `${arm.name}, ${arm.xMm} mm to the right, ${arm.yMm} mm to the front`,
        ...drawn,
        arc: arc(x, y, radius * 0.8, drawn.sense),
        left: half(x, y, radius, -1),
        right: half(x, y, radius, 1),
      };
    });
  });

  protected take(event: PointerEvent, {i, scale}: {i: number; scale: number}): void {
    const {xMm, yMm} = this.arms()[i]!;
    const at = pointed(event, scale);
    this.inHand.set({arm: i, xMm, yMm, scale, held: {x: at.x - xMm, y: at.y - yMm}});
    (event.target as Element).setPointerCapture(event.pointerId);
  }

  protected drag(event: PointerEvent): void {
    const inHand = this.inHand();
    if (!inHand) return;
    const at = pointed(event, inHand.scale);
    const inside = (mm: number) => Math.round(Math.max(-maxMm, Math.min(maxMm, mm)));
    this.inHand.set({...inHand, xMm: inside(at.x - inHand.held.x), yMm: inside(at.y - inHand.held.y)});
  }

  protected drop(): void {
    const inHand = this.inHand();
    this.inHand.set(undefined);
    const before = inHand && this.arms()[inHand.arm];
    if (!inHand || !before || (before.xMm === inHand.xMm && before.yMm === inHand.yMm)) return;
    this.moved.emit({arm: inHand.arm, xMm: inHand.xMm, yMm: inHand.yMm});
  }

  /** Arrow keys move an arm by 1 mm, with Shift by 10. */
  protected nudge(event: Event, arm: number, right: number, front: number): void {
    event.preventDefault();
    const {xMm, yMm} = this.arms()[arm]!;
    const by = (event as KeyboardEvent).shiftKey ? 10 : 1;
    this.moved.emit({arm, xMm: xMm + right * by, yMm: yMm + front * by});
  }

  protected answer(arm: number, sense: RotationDirection): void {
    this.answered.emit({arm, sense});
  }
}

/** Where the pointer is on the drawing, mm from the centre of the craft; `scale` in units of the drawing per mm. */
function pointed(event: PointerEvent, scale: number): Point {
  const box = (event.target as SVGElement).ownerSVGElement!.getBoundingClientRect();
  const onSheet = (at: number, from: number, length: number) => ((at - from) / length) * size - size / 2;
  return {
    x: onSheet(event.clientX, box.left, box.width) / scale,
    y: -onSheet(event.clientY, box.top, box.height) / scale,
  };
}

/** The name stands on the side away from the centre, where no arm line comes from; beyond the disc where that is small. */
const nameOffset = (y: number, radius: number): number => (y < size / 2 - 20 ? -(radius >= 50 ? 26 : radius + 5) : 36);

/**
 * What the halves mean stands beside the hub, where arms that come from above or below leave room; on the side
 * away from the centre where the arm comes from the side.
 */
const sideOffset = (x: number, y: number): number => {
  const comesFromTheSide = Math.abs(y - size / 2) < 0.5 * Math.abs(x - size / 2);
  if (!comesFromTheSide) return 4;
  return y > size / 2 + 10 ? 23 : -17;
};

/** The line between the halves of a disc, in the parts that hub and name leave of it. */
function middleOf(y: number, radius: number): (readonly [number, number])[] {
  const name = y + nameOffset(y, radius);
  const above = Math.min(y - 19, name < y ? name - 13 : Infinity);
  const below = Math.max(y + 19, name > y ? name + 5 : -Infinity);
  return [[y - radius, above] as const, [below, y + radius] as const].filter(([from, to]) => to > from);
}

function arc(x: number, y: number, r: number, sense: RotationDirection | undefined): string {
  const [dx, dy] = [r * 0.78, r * 0.63];
  if (sense === 'clockwise') return `M${x - dx} ${y - dy}A${r} ${r} 0 0 1 ${x + dx} ${y - dy}`;
  return `M${x + dx} ${y - dy}A${r} ${r} 0 0 0 ${x - dx} ${y - dy}`;
}

const half = (x: number, y: number, r: number, side: 1 | -1) =>
  `M${x} ${y - r}A${r} ${r} 0 0 ${side === 1 ? 1 : 0} ${x} ${y + r}Z`;
