import {ChangeDetectionStrategy, Component, DestroyRef, computed, inject} from '@angular/core';
import {budgetOf} from '@core/controller/budget-of';
import {runningMhz} from '@core/controller/clock';
import {loopRates} from '@core/controller/loop-rates';
import type {PairVerdict} from '@core/controller/signal-pair';
import {protocolName} from '@core/dshot/protocol';
import {FleetStore} from '../../state/fleet.store';
import {OwnPlace} from '../../state/own-place';
import {RecordStore} from '../../state/record.store';
import {ArmingRecords} from './arming-records';
import {ClockChoiceComponent} from './clock-choice.component';
import {CockpitFeed} from './cockpit-feed';
import {LoadBarComponent} from './load-bar.component';
import {TaskTableComponent} from './task-table.component';

/** Which loop rates this flight controller can hold, part by part, and what it measures of itself now. */
@Component({
  selector: 'bx-loop-view',
  imports: [ClockChoiceComponent, LoadBarComponent, TaskTableComponent],
  template: `
    @if (board(); as board) {
      <p class="small">
        {{ board.name }} at <span class="n">{{ runningMhz() }} MHz</span>, gyro at
        <span class="n">{{ board.gyroHz / 1000 }} kHz</span>; {{ plan() }}.
      </p>
      <bx-clock-choice />
      <table class="plain">
        <thead>
          <tr>
            <th>Loop</th>
            <th>Base</th>
            <th>Filters</th>
            <th>Protocol</th>
            <th class="load">Gyro task; lines at 50 and 65 %</th>
            <th></th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          @for (rate of rates(); track rate.pair.loopHz) {
            <tr [class.here]="rate.pair.loopHz === planned()">
              <td class="n">{{ rate.pair.loopHz / 1000 }} kHz</td>
              <td class="n">{{ rate.budget.baseUs.toFixed(1) }} µs</td>
              <td class="n">{{ rate.budget.filtersUs.toFixed(1) }} µs</td>
              <td class="n">{{ rate.budget.protocolUs.toFixed(1) }} µs</td>
              <td>
                <bx-load-bar [load]="rate.budget.load" />
              </td>
              <td>
                <span
                  class="tag"
                  [class.ok]="rate.verdict === 'feasible'"
                  [class.wait]="rate.verdict === 'tight'"
                  [class.diff]="rate.verdict === 'impossible'"
                  >{{ rate.fault ?? rate.verdict }}</span
                >
                {{ rate.why }}
              </td>
              <td>
                @if (rate.pair.loopHz === planned()) {
                  planned
                } @else if (rate.verdict !== 'impossible') {
                  <button type="button" class="link" (click)="fleet.setController({loopHz: rate.pair.loopHz})">
                    plan
                  </button>
                }
              </td>
            </tr>
          }
        </tbody>
      </table>
      <p class="quiet small">
        Computed from the cycles of base, filters and protocol on this clock, for the planned filters and protocol:
        predicted. A rate higher than the gyro's has nothing to work with.
      </p>
      @if (feed.tasks().length) {
        <bx-task-table [tasks]="feed.tasks()" [budget]="budget()!" />
      } @else {
        <p class="quiet small">
          What its processor measures of itself, task by task, stands here while it is connected.
        </p>
      }
    } @else {
      <p class="quiet">The flight controller's clock and gyro are read by a survey.</p>
    }
  `,
  styles: `
    td,
    .small {
      font-size: var(--fs-small);
    }
    .small {
      margin-bottom: var(--s4);
    }
    td.n {
      white-space: nowrap;
    }
    tr.here {
      background: var(--tint);
    }
    .load {
      width: 22%;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LoopViewComponent {
  protected readonly fleet = inject(FleetStore);
  protected readonly feed = inject(CockpitFeed);
  private readonly record = inject(RecordStore);
  private readonly records = inject(ArmingRecords);
  private readonly own = inject(OwnPlace);

  protected readonly board = computed(() => {
    const found = this.record.found()?.controller;
    return found && {name: found.identity.board, clockMhz: found.identity.clockMhz, gyroHz: found.config.gyroHz};
  });
  protected readonly planned = computed(() => this.records.planned().loopHz);
  protected readonly plan = computed(() => {
    const {protocol, replies} = this.records.planned();
    return `planned are ${protocolName[protocol]}${replies ? ' with replies' : ''}, ${this.planned() / 1000} kHz`;
  });
  protected readonly runningMhz = computed(() =>
    runningMhz(this.records.found() ?? {clockMhz: 0}, this.board()?.clockMhz ?? 0),
  );
  protected readonly budget = computed(() => {
    const place = this.own.place();
    return place && budgetOf(this.records.planned(), place);
  });
  protected readonly rates = computed((): readonly PairVerdict[] => {
    const place = this.own.place();
    return place ? loopRates(this.records.planned(), place) : [];
  });

  constructor() {
    this.feed.wantsTasks.set(true);
    inject(DestroyRef).onDestroy(() => this.feed.wantsTasks.set(false));
  }
}
