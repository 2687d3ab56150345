import {ChangeDetectionStrategy, Component, input} from '@angular/core';
import type {TasksSheet} from '@core/sheets/signal/loop';
import {LoadBarComponent} from './load-bar.component';

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
        @for (line of tasks().lines; track line.name) {
          <tr [class.counts]="line.isGyro">
            <td>{{ line.name }}</td>
            <td class="n">{{ line.runs }}</td>
            <td class="n">{{ line.takes }}</td>
            <td class="n">{{ line.longest }}</td>
            <td class="n">{{ line.share }}</td>
            <td class="n">{{ line.planned }}</td>
          </tr>
        }
      </tbody>
      <tfoot>
        <tr>
          <th scope="row" colspan="2">The gyro task: this counts</th>
          <td class="n">{{ tasks().gyroUs }}</td>
          <td></td>
          <td class="n">
            <b>{{ tasks().gyroShare }}</b>
            <bx-load-bar [load]="tasks().gyroLoad" [planned]="tasks().plannedLoad" />
          </td>
          <td class="n">{{ tasks().plannedShare }}, framed</td>
        </tr>
        <tr>
          <th scope="row" colspan="4">Everything together</th>
          <td class="n">{{ tasks().allShare }}</td>
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
      font-size: var(--fs-note);
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
  readonly tasks = input.required<TasksSheet>();
}
