import {ChangeDetectionStrategy, Component, computed, input} from '@angular/core';
import {formatValue, type ParameterDefinition} from '@core/settings/definitions';
import {spreadMarks} from './dot-strip-layout';

const width = 262;
const margin = 16;
const diameter = 13.2;

/** One line per parameter: a mark per motor at the value found, a bar at the plan. */
@Component({
  selector: 'bx-dot-strip',
  template: `
    <svg
      [attr.viewBox]="'0 0 ' + width + ' ' + height()"
      [attr.height]="height()"
      role="img"
      [attr.aria-label]="spoken()"
    >
      <line [attr.x1]="14" [attr.x2]="width - 14" [attr.y1]="base()" [attr.y2]="base()" class="line" />
      @for (tick of ticks(); track tick.x) {
        <line [attr.x1]="tick.x" [attr.x2]="tick.x" [attr.y1]="base() - 3" [attr.y2]="base() + 3" class="tick" />
        <text [attr.x]="tick.x" [attr.y]="base() + 16" class="label">{{ tick.text }}</text>
      }
      @for (bar of bars(); track bar) {
        <rect [attr.x]="bar - 3" y="3" width="6" [attr.height]="base() + 3" class="plan" />
      }
      @for (mark of marks(); track mark.motor) {
        <g [class.off]="mark.off">
          <circle [attr.cx]="mark.x" [attr.cy]="base() - 7.5 - mark.row * 13.6" r="6.6" />
          <text [attr.x]="mark.x" [attr.y]="base() - 4 - mark.row * 13.6" class="num">
            {{ mark.motor + 1 }}
          </text>
        </g>
      }
    </svg>
  `,
  styles: `
    svg {
      display: block;
      width: 262px;
    }
    .line {
      stroke: var(--rule);
    }
    .tick {
      stroke: var(--ink-3);
    }
    .label {
      font: 10px var(--mono);
      fill: var(--ink-3);
      text-anchor: middle;
    }
    .plan {
      fill: var(--petrol);
      opacity: 0.28;
    }
    circle {
      fill: var(--sheet);
      stroke: var(--ink);
    }
    .num {
      font: 9.5px var(--mono);
      fill: var(--ink);
      text-anchor: middle;
    }
    .off circle {
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
  protected readonly width = width;

  private readonly toX = computed(() => {
    const {ticks, scale, min, max, choices} = this.definition();
    if (choices) {
      const inset = choices.length === 2 ? 40 : 18;
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
      ? choices.map((c) => ({x: this.toX()(c.value), text: c.label}))
      : ticks.map((t) => ({x: this.toX()(t), text: String(t)}));
  });
  protected readonly bars = computed(() => [
    ...new Set(this.planned().flatMap((v) => (v === undefined ? [] : [this.toX()(v)]))),
  ]);
  protected readonly marks = computed(() => {
    const values = this.values();
    const planned = this.planned();
    const xs = values.map((v) => (v === undefined ? undefined : this.toX()(v)));
    return spreadMarks(xs, diameter, {from: 8, to: width - 8}).map((m) => ({
      ...m,
      off: planned[m.motor] !== undefined && planned[m.motor] !== values[m.motor],
    }));
  });
  private readonly rows = computed(() => 1 + Math.max(0, ...this.marks().map((m) => m.row)));
  protected readonly base = computed(() => 21 + (this.rows() - 1) * 13.6);
  protected readonly height = computed(() => this.base() + 20);
  protected readonly spoken = computed(() =>
    this.values()
      .map(
        (v, i) =>
          `motor ${i + 1}: ${v === undefined ? 'not found' : formatValue(this.definition(), v)}${this.marks().find((m) => m.motor === i)?.off ? ', off the plan' : ''}`,
      )
      .join('; '),
  );
}
