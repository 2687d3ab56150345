import {ChangeDetectionStrategy, Component, DestroyRef, inject} from '@angular/core';
import {loopSheet} from '@core/sheets/signal/loop';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FleetStore} from '../../state/fleet.store';
import {OwnPlace} from '../../state/own-place';
import {ClockChoiceComponent} from './clock-choice.component';
import {CockpitFeed} from './cockpit-feed';
import {LoadBarComponent} from './load-bar.component';
import {TaskTableComponent} from './task-table.component';

/** Which loop rates this flight controller can hold, part by part, and what it measures of itself now. */
@Component({
  selector: 'bx-loop-view',
  imports: [ClockChoiceComponent, LoadBarComponent, TaskTableComponent],
  template: `
    @if (sheet(); as sheet) {
      <p class="small">{{ sheet.board }}</p>
      <bx-clock-choice [sheet]="sheet" />
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
          @for (rate of sheet.rates; track rate.loopHz) {
            <tr [class.here]="rate.isPlanned">
              <td class="n">{{ rate.name }}</td>
              <td class="n">{{ rate.base }}</td>
              <td class="n">{{ rate.filters }}</td>
              <td class="n">{{ rate.protocol }}</td>
              <td>
                <bx-load-bar [load]="rate.load" />
              </td>
              <td>
                <span class="tag" [class]="rate.tag">{{ rate.word }}</span>
                {{ rate.why }}
              </td>
              <td>
                @if (rate.isPlanned) {
                  planned
                } @else if (rate.canPlan) {
                  <button type="button" class="link" (click)="fleet.setController({loopHz: rate.loopHz})">plan</button>
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
      @if (sheet.tasks; as tasks) {
        <bx-task-table [tasks]="tasks" />
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
      font-size: var(--fs-note);
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
  private readonly feed = inject(CockpitFeed);
  private readonly own = inject(OwnPlace);
  protected readonly sheet = inject(CraftQuestionStore).sheet((q) =>
    loopSheet(q, {place: this.own.place(), tasks: this.feed.tasks()}),
  );

  constructor() {
    this.feed.wantsTasks.set(true);
    inject(DestroyRef).onDestroy(() => this.feed.wantsTasks.set(false));
  }
}
