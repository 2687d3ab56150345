import {ChangeDetectionStrategy, Component, computed, input} from '@angular/core';
import {plannedUs} from '@core/controller/tasks';
import type {LoopBudget} from '@core/dshot/loop-budget';
import type {ControllerTask} from '@core/link/operations';
import {gyroLoad, shareOf, wholeLoad} from '@core/link/task-load';
import {LoadBarComponent} from './load-bar.component';

const words: Readonly<Record<string, string>> = {
  loop: 'gyro and control loop',
  filters: 'filters',
  motors: 'motor wires',
  receiver: 'receiver',
  attitude: 'attitude',
  cable: 'cable',
  housekeeping: 'housekeeping',
};

/** Where the time of the flight controller's processor goes: each task as it measures it, beside what the plan would take. */
@Component({
  selector: 'bx-task-table',
  imports: [LoadBarComponent],
  template: `
    <table class="plain">
      <caption>
        Measured now, task by task
      </caption>
      <thead>
        <tr>
          <th>Task</th>
          <th>Runs</th>
          <th>Takes</th>
          <th>At longest</th>
          <th class="load">Share of the time; lines at 50 and 65 %</th>
          <th>Planned, computed</th>
        </tr>
      </thead>
      <tbody>
        @for (row of rows(); track row.name) {
          <tr [class.counts]="row.gyro">
            <td>{{ row.words }}{{ row.gyro ? ', part of the gyro task' : '' }}</td>
            <td class="n">{{ row.hz }} /s</td>
            <td class="n">{{ row.us.toFixed(1) }} µs</td>
            <td class="n">{{ row.mostUs.toFixed(1) }} µs</td>
            <td class="n">{{ percent(row.share) }}</td>
            <td class="n">{{ row.plannedUs === undefined ? '' : row.plannedUs.toFixed(1) + ' µs' }}</td>
          </tr>
        }
      </tbody>
      <tfoot>
        <tr>
          <th scope="row" colspan="2">The gyro task: this counts</th>
          <td class="n">{{ perLoopUs().toFixed(1) }} µs</td>
          <td></td>
          <td class="n">
            <b>{{ percent(gyro()) }}</b>
            <bx-load-bar [load]="gyro()" [planned]="budget().load" />
          </td>
          <td class="n">{{ percent(budget().load) }}, framed</td>
        </tr>
        <tr>
          <th scope="row" colspan="4">Everything together</th>
          <td class="n">{{ percent(whole()) }}</td>
          <td></td>
        </tr>
      </tfoot>
    </table>
  `,
  styles: `
    caption {
      text-align: left;
      font-weight: 650;
      font-size: var(--fs-body);
      padding: var(--s5) 0 var(--s2);
    }
    td,
    th {
      font-size: var(--fs-small);
    }
    tfoot th {
      text-align: left;
    }
    td.n {
      white-space: nowrap;
    }
    .load {
      width: 24%;
    }
    bx-load-bar {
      display: inline-block;
      width: 72%;
      margin-left: var(--s3);
      vertical-align: middle;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TaskTableComponent {
  readonly tasks = input.required<readonly ControllerTask[]>();
  /** Of the plan, on this board. */
  readonly budget = input.required<LoopBudget>();

  protected readonly rows = computed(() =>
    this.tasks().map((task) => ({
      ...task,
      words: words[task.name] ?? task.name,
      share: shareOf(task),
      plannedUs: plannedUs(this.budget(), task),
    })),
  );
  protected readonly gyro = computed(() => gyroLoad(this.tasks()));
  protected readonly whole = computed(() => wholeLoad(this.tasks()));
  protected readonly perLoopUs = computed(() => this.tasks().reduce((sum, {gyro, us}) => sum + (gyro ? us : 0), 0));

  protected percent = (share: number): string => `${(share * 100).toFixed(1)} %`;
}
