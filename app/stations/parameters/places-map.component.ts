import {ChangeDetectionStrategy, Component, computed, input, output, signal} from '@angular/core';
import type {SettingKind, SettingValue} from '@core/link/setting-shapes';
import {mapLetters, placesOf, withPlace, type PlaceMark} from '@core/sheets/parameters/places';

/** A cell of the screen on the drawing, px: about that of a letter. */
const cell = {width: 11, height: 14} as const;

interface InHand {
  readonly row: number;
  readonly x: number;
  readonly y: number;
  /** Where on it the pointer took it, cells. */
  readonly held: {readonly x: number; readonly y: number};
}

/** Things with a place on a screen, drawn where they are; dragged, or moved with the arrow keys by a cell. */
@Component({
  selector: 'bx-places-map',
  template: `
    @if (map(); as map) {
      <svg
        [attr.viewBox]="'0 0 ' + map.columns * cell.width + ' ' + map.rows * cell.height"
        role="group"
        [attr.aria-label]="name() + ', ' + map.columns + ' columns, ' + map.rows + ' rows'"
      >
        <defs>
          <pattern
            id="cells"
            [attr.width]="5 * cell.width"
            [attr.height]="5 * cell.height"
            patternUnits="userSpaceOnUse"
          >
            <path [attr.d]="'M' + 5 * cell.width + ' 0H0V' + 5 * cell.height" class="grid" />
          </pattern>
        </defs>
        <rect [attr.width]="map.columns * cell.width" [attr.height]="map.rows * cell.height" fill="url(#cells)" />
        @for (mark of map.marks; track mark.row) {
          <g
            class="mark"
            role="button"
            tabindex="0"
            [class.hidden]="!mark.isShown"
            [class.covered]="mark.isCovered"
            [attr.aria-label]="mark.spoken + '; drag it, or move it with the arrow keys'"
            (pointerdown)="take($event, mark)"
            (pointermove)="drag($event)"
            (pointerup)="drop()"
            (pointercancel)="inHand.set(undefined)"
            (keydown.arrowleft)="move($event, mark, -1, 0)"
            (keydown.arrowright)="move($event, mark, 1, 0)"
            (keydown.arrowup)="move($event, mark, 0, -1)"
            (keydown.arrowdown)="move($event, mark, 0, 1)"
          >
            <title>{{ mark.spoken }}</title>
            <rect
              [attr.x]="mark.x * cell.width"
              [attr.y]="mark.y * cell.height"
              [attr.width]="letters * 7 + 4"
              [attr.height]="cell.height"
              class="box"
            />
            <text [attr.x]="mark.x * cell.width + 2" [attr.y]="(mark.y + 1) * cell.height - 3">
              {{ short(mark.name) }}
            </text>
          </g>
        }
      </svg>
      @if (map.overlaps) {
        <p><span class="tag diff">over each other</span> {{ map.overlaps }}</p>
      }
      <p class="quiet">Each begins at the left edge of its box. Dashed ones are not shown.</p>
    }
  `,
  styles: `
    svg {
      display: block;
      width: 100%;
      max-width: 720px;
      border: 1px solid var(--edge);
      background: var(--sheet);
      touch-action: none;
    }
    .grid {
      fill: none;
      stroke: var(--rule-2);
    }
    .mark {
      cursor: grab;
    }
    .box {
      fill: var(--tint);
      stroke: var(--ink-3);
    }
    .mark:focus-visible {
      outline: none;
    }
    .mark:focus-visible .box {
      stroke: var(--petrol);
      stroke-width: 2.5;
    }
    .hidden .box {
      fill: none;
      stroke-dasharray: 3 3;
    }
    .hidden text {
      fill: var(--ink-3);
    }
    .covered .box {
      stroke: var(--copper);
    }
    text {
      font: var(--fs-axis) var(--mono);
      fill: var(--ink);
      pointer-events: none;
    }
    p {
      margin: var(--s2) 0;
      font-size: var(--fs-note);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PlacesMapComponent {
  readonly name = input.required<string>();
  readonly kind = input.required<SettingKind>();
  readonly value = input.required<SettingValue>();
  readonly changed = output<SettingValue>();

  protected readonly cell = cell;
  protected readonly letters = mapLetters;
  protected readonly inHand = signal<InHand | undefined>(undefined);
  protected readonly map = computed(() => placesOf(this.kind(), this.shown()));

  private readonly shown = computed(() => {
    const inHand = this.inHand();
    return inHand ? withPlace(this.kind(), this.value(), inHand) : this.value();
  });

  protected short(name: string): string {
    return name.length > mapLetters ? `${name.slice(0, mapLetters - 1)}…` : name;
  }

  protected take(event: PointerEvent, {row, x, y}: PlaceMark): void {
    const at = cellAt(event);
    this.inHand.set({row, x, y, held: {x: at.x - x, y: at.y - y}});
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
  }

  protected drag(event: PointerEvent): void {
    const inHand = this.inHand();
    if (!inHand) return;
    const at = cellAt(event);
    this.inHand.set({...inHand, x: at.x - inHand.held.x, y: at.y - inHand.held.y});
  }

  protected drop(): void {
    const inHand = this.inHand();
    this.inHand.set(undefined);
    if (inHand) this.put(inHand);
  }

  protected move(event: Event, {row, x, y}: PlaceMark, right: number, down: number): void {
    event.preventDefault();
    this.put({row, x: x + right, y: y + down});
  }

  private put(to: {readonly row: number; readonly x: number; readonly y: number}): void {
    const [before, after] = [this.value(), withPlace(this.kind(), this.value(), to)];
    if (JSON.stringify(before) !== JSON.stringify(after)) this.changed.emit(after);
  }
}

/** Where the pointer is on the map, cells from the left and the top. */
function cellAt(event: PointerEvent): {readonly x: number; readonly y: number} {
  const svg = (event.currentTarget as SVGElement).ownerSVGElement!;
  const box = svg.getBoundingClientRect();
  const {width, height} = svg.viewBox.baseVal;
  return {
    x: (((event.clientX - box.left) / box.width) * width) / cell.width,
    y: (((event.clientY - box.top) / box.height) * height) / cell.height,
  };
}
