import {ChangeDetectionStrategy, Component, computed, input} from '@angular/core';
import type {ParameterDefinition} from '@core/settings/definitions';
import {isOffPlan, spokenValues} from '@core/sheets/parameters/found-values';
import {longestMark, markSize, placeMarks} from './dot-strip-layout';

/** Half of the longest mark fits beside the ends of the scale, so that a mark never leaves its value. */
const margin = longestMark / 2 + 1;
const rowHeight = 16;

/** One line per parameter: a mark per motor at the value found, a bar at the plan. */
@Component({
  selector: 'bx-dot-strip',
  template: `
    <svg
      [attr.viewBox]="'0 0 ' + width() + ' ' + height()"
      [attr.height]="height()"
      [attr.width]="width()"
      role="img"
      [attr.aria-label]="spoken()"
    >
      <line [attr.x1]="14" [attr.x2]="width() - 14" [attr.y1]="base()" [attr.y2]="base()" class="line" />
      @for (tick of ticks(); track tick.x) {
        <line [attr.x1]="tick.x" [attr.x2]="tick.x" [attr.y1]="base() - 3" [attr.y2]="base() + 3" class="tick" />
        <text [attr.x]="tick.x" [attr.y]="base() + 16" class="label">{{ tick.text }}</text>
      }
      @for (bar of bars(); track bar) {
        <rect [attr.x]="bar - 3" y="3" width="6" [attr.height]="base() + 3" class="plan" />
      }
      @for (mark of marks(); track mark.text) {
        <g [class.off]="mark.off" [class.joined]="mark.motors.length > 1">
          <line
            [attr.x1]="mark.x"
            [attr.x2]="mark.x"
            [attr.y1]="base()"
            [attr.y2]="top(mark.row) + size"
            class="stem"
          />
          <rect
            [attr.x]="mark.x - mark.width / 2"
            [attr.y]="top(mark.row)"
            [attr.width]="mark.width"
            [attr.height]="size"
            [attr.rx]="size / 2"
            class="mark"
          />
          <text
            [attr.x]="mark.x"
            [attr.y]="top(mark.row) + 11.4"
            [attr.textLength]="mark.width >= longest ? longest - 8 : null"
            lengthAdjust="spacingAndGlyphs"
            class="num"
          >
            {{ mark.text }}
          </text>
        </g>
      }
    </svg>
  `,
  styles: `
    svg {
      display: block;
    }
    .line {
      stroke: var(--rule);
    }
    .tick {
      stroke: var(--ink-3);
    }
    .label {
      font: var(--fs-axis) var(--mono);
      fill: var(--ink-3);
      text-anchor: middle;
    }
    .plan {
      fill: var(--petrol);
      opacity: 0.28;
    }
    .mark {
      fill: var(--sheet);
      stroke: var(--ink);
    }
    .stem {
      stroke: var(--ink-3);
    }
    .num {
      font: var(--fs-axis) var(--mono);
      fill: var(--ink);
      text-anchor: middle;
    }
    .off .mark {
      fill: var(--copper);
      stroke: var(--copper);
    }
    .off .num {
      fill: var(--on-copper);
      font-weight: 700;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DotStripComponent {
  readonly definition = input.required<ParameterDefinition>();
  /** Value found per motor. */
  readonly values = input.required<readonly (number | undefined)[]>();
  /** Planned value per motor; undefined where calibration decides. */
  readonly planned = input.required<readonly (number | undefined)[]>();
  /** Of the whole strip, px. */
  readonly width = input(262);

  private readonly toX = computed(() => {
    const {ticks, scale, min, max, choices} = this.definition();
    const width = this.width();
    if (choices) {
      const inset = choices.length === 2 ? 30 : 8;
      const places = choices.map((c) => c.value);
      const step = (width - 2 * (margin + inset)) / Math.max(1, places.length - 1);
      return (v: number) => margin + inset + Math.max(0, places.indexOf(v)) * step;
    }
    const {from, to} = scale ?? {
      from: Math.min(min, ticks[0] ?? min),
      to: Math.max(max, ticks.at(-1) ?? max),
    };
    return (v: number) => margin + ((Math.min(to, Math.max(from, v)) - from) / (to - from)) * (width - 2 * margin);
  });
  protected readonly ticks = computed(() => {
    const {choices, ticks} = this.definition();
    return choices
      ? choices.flatMap((c) => (ticks.includes(c.value) ? [{x: this.toX()(c.value), text: c.label}] : []))
      : ticks.map((t) => ({x: this.toX()(t), text: String(t)}));
  });
  protected readonly bars = computed(() => [
    ...new Set(this.planned().flatMap((v) => (v === undefined ? [] : [this.toX()(v)]))),
  ]);
  protected readonly marks = computed(() => {
    const values = this.values();
    const planned = this.planned();
    const toX = this.toX();
    return placeMarks(
      values.flatMap((v, motor) => (v === undefined ? [] : [{motor, x: toX(v), off: isOffPlan(v, planned[motor])}])),
    );
  });
  private readonly rows = computed(() => 1 + Math.max(0, ...this.marks().map((m) => m.row)));
  protected readonly base = computed(() => 22 + (this.rows() - 1) * rowHeight);
  protected readonly size = markSize;
  protected readonly longest = longestMark;
  protected readonly height = computed(() => this.base() + 20);
  protected readonly spoken = computed(() => spokenValues(this.definition(), this.values(), this.planned()));

  /** Upper edge of a row of marks. */
  protected top(row: number): number {
    return this.base() - 3 - markSize - row * rowHeight;
  }
}
