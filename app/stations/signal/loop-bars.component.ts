import {ChangeDetectionStrategy, Component, input} from '@angular/core';
import type {LoopScale} from '@core/sheets/signal/signal-budget';

/** One loop as bars over time, found and plan on one scale: what the wire carries, and what the processor computes. */
@Component({
  selector: 'bx-loop-bars',
  template: `
    @for (loop of scale().loops; track loop.title) {
      <div class="row">
        <div class="cap">
          <b [class.plan]="loop.title === 'plan'">{{ loop.title }}</b> {{ loop.config
          }}<span class="n">{{ loop.length }}</span>
        </div>
        @for (bar of loop.bars; track bar.name) {
          <div class="track" role="img" [attr.aria-label]="bar.label">
            <s [style.width.%]="loop.end"></s>
            @for (part of bar.parts; track part.name) {
              <i [class]="part.kind" [style.width.%]="part.width"></i>
            }
            @for (limit of bar.limits; track limit.at) {
              <u [class.most]="limit.isMost" [style.left.%]="limit.at"></u>
            }
            <em [style.left.%]="loop.end"></em>
          </div>
          <div class="figures n">
            {{ bar.name }}:
            @for (part of bar.parts; track part.name; let last = $last) {
              <i class="chip" [class]="part.kind"></i>{{ part.name }} {{ part.us }}{{ last ? '' : ' + ' }}
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
      @for (tick of scale().ticks; track tick.us) {
        <span [style.left.%]="tick.at">{{ tick.us }}</span>
      }
      <span class="unit">µs</span>
    </div>
  `,
  styles: `
    .row {
      padding: var(--s3) 0 var(--s4);
      border-bottom: 1px solid var(--rule-2);
      font-size: var(--fs-note);
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
  readonly scale = input.required<LoopScale>();
}
