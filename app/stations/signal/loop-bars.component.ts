import {ChangeDetectionStrategy, Component, computed, input} from '@angular/core';
import {loadLimits, type LoopBudget} from '@core/dshot/loop-budget';

export interface LoopRow {
  readonly title: string;
  readonly config: string;
  readonly budget: LoopBudget;
  /** Throttle is the length of a pulse. */
  readonly isPulse: boolean;
}

interface Part {
  readonly kind: string;
  readonly name: string;
  readonly us: number;
}

/** One loop as bars over time, found and plan on one scale: what the wire carries, and what the processor computes. */
@Component({
  selector: 'bx-loop-bars',
  template: `
    @for (row of drawn(); track row.title) {
      <div class="row">
        <div class="cap">
          <b [class.plan]="row.title === 'plan'">{{ row.title }}</b> {{ row.config
          }}<span class="n">loop {{ row.budget.periodUs.toFixed(0) }} µs</span>
        </div>
        @for (bar of row.bars; track bar.name) {
          <div class="track" role="img" [attr.aria-label]="bar.label">
            <s [style.width.%]="x(row.budget.periodUs)"></s>
            @for (part of bar.parts; track part.name) {
              <i [class]="part.kind" [style.width.%]="x(part.us)"></i>
            }
            @for (limit of bar.limits; track limit.share) {
              <u [class.most]="limit.isMost" [style.left.%]="x(limit.us)"></u>
            }
            <em [style.left.%]="x(row.budget.periodUs)"></em>
          </div>
          <div class="figures n">
            {{ bar.name }}:
            @for (part of bar.parts; track part.name; let last = $last) {
              <i class="chip" [class]="part.kind"></i>{{ part.name }} {{ part.us.toFixed(1) }}{{ last ? '' : ' + ' }}
            }
            {{ bar.sum }}
            @if (bar.over) {
              <span class="tag diff">{{ bar.over }}</span>
            }
          </div>
        }
      </div>
    }
    <div class="axis n" aria-hidden="true">
      @for (tick of ticks(); track tick) {
        <span [style.left.%]="x(tick)">{{ tick }}</span>
      }
      <span class="unit">µs</span>
    </div>
  `,
  styles: `
    .row {
      padding: var(--s3) 0 var(--s4);
      border-bottom: 1px solid var(--rule-2);
      font-size: var(--fs-small);
    }
    .cap {
      display: flex;
      gap: var(--s4);
    }
    .cap b.plan {
      color: var(--petrol);
    }
    .cap span {
      margin-left: auto;
      white-space: nowrap;
    }
    .track {
      position: relative;
      height: 13px;
      display: flex;
      margin: var(--s2) 0 var(--s1);
      overflow: hidden;
    }
    .track s {
      position: absolute;
      inset: 0 auto 0 0;
      background: var(--rule-2);
    }
    .track i {
      position: relative;
      height: 100%;
    }
    .track em,
    .track u {
      position: absolute;
      top: 0;
      bottom: 0;
      border-left: 1px dashed var(--ink);
    }
    .track em {
      border-left: 2px solid var(--ink);
      margin-left: -2px;
    }
    .track u.most {
      border-left: 2px solid var(--copper);
    }
    .command,
    .base {
      background: var(--petrol);
    }
    .pause {
      background: repeating-linear-gradient(45deg, var(--ink-3) 0 2px, transparent 2px 5px);
    }
    .reply,
    .protocol {
      background: var(--plum);
    }
    .filters {
      background: var(--ochre);
    }
    .chip {
      display: inline-block;
      width: 9px;
      height: 9px;
      margin-right: var(--s2);
    }
    .figures {
      font-size: var(--fs-axis);
      letter-spacing: -0.2px;
      color: var(--ink-2);
    }
    .axis {
      position: relative;
      height: 16px;
      font-size: var(--fs-axis);
      color: var(--ink-2);
      border-top: 1px solid var(--rule);
    }
    .axis span {
      position: absolute;
      transform: translateX(-50%);
    }
    .axis span:first-child {
      transform: none;
    }
    .axis .unit {
      right: 0;
      transform: none;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LoopBarsComponent {
  readonly rows = input.required<readonly LoopRow[]>();

  /** Longest time that anything takes, µs. */
  private readonly scale = computed(() =>
    Math.max(...this.rows().flatMap(({budget: b}) => [b.periodUs * 1.04, b.wire.totalUs, b.load * b.periodUs])),
  );
  protected readonly ticks = computed(() => {
    const step = [10, 20, 50, 100, 200, 250, 500].find((s) => this.scale() / s <= 7) ?? 1000;
    return Array.from({length: Math.floor((0.96 * this.scale()) / step) + 1}, (_, i) => i * step);
  });
  protected readonly drawn = computed(() =>
    this.rows().map((row) => ({...row, bars: barsOf(row.budget, row.isPulse)})),
  );

  protected x = (us: number): number => (100 * us) / this.scale();
}

function barsOf({wire, periodUs, load, wireFits, ...b}: LoopBudget, isPulse: boolean) {
  const wireParts: Part[] = [{kind: 'command', name: isPulse ? 'longest pulse' : 'command', us: wire.commandUs}];
  if (wire.replyUs)
    wireParts.push({kind: 'pause', name: 'pause', us: wire.pauseUs}, {kind: 'reply', name: 'reply', us: wire.replyUs});
  const taskParts: Part[] = [
    {kind: 'base', name: 'base', us: b.baseUs},
    {kind: 'filters', name: 'filters', us: b.filtersUs},
    {kind: 'protocol', name: 'protocol', us: b.protocolUs},
  ];
  const slack = periodUs - wire.totalUs;
  return [
    {
      ...{name: 'wire', parts: wireParts, limits: []},
      label: `Motor wires ${wire.totalUs.toFixed(0)} of ${periodUs.toFixed(0)} µs`,
      sum: `= ${wire.totalUs.toFixed(1)} µs${slack > 0 ? `, ${slack.toFixed(1)} left` : ''}`,
      over: wireFits ? '' : `${(-slack).toFixed(1)} µs too long`,
    },
    {
      ...{name: 'task', parts: taskParts},
      limits: [loadLimits.good, loadLimits.most].map((share) => ({
        share,
        us: share * periodUs,
        isMost: share === loadLimits.most,
      })),
      label: `Gyro task ${(load * 100).toFixed(0)} % of the loop`,
      sum: `= ${(load * periodUs).toFixed(1)} µs, ${(load * 100).toFixed(0)} %`,
      over: load > loadLimits.most ? 'overloaded' : '',
    },
  ];
}
