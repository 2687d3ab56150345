import {ChangeDetectionStrategy, Component, inject, input} from '@angular/core';
import {RouterLink} from '@angular/router';
import type {SignalFinding} from '@core/compare/signal-findings';
import type {ControllerPlan} from '@core/controller/plan';
import {stationTitles} from '@core/words/station-names';
import {FleetStore} from '../../state/fleet.store';

/** What is found about the signal: how it stands, the figure that says so, and the one thing to do next. */
@Component({
  selector: 'bx-signal-findings',
  imports: [RouterLink],
  template: `
    <ul [attr.aria-label]="label()">
      @for (finding of findings(); track finding.id) {
        <li>
          <span class="tag" [class]="finding.tag">{{ finding.word }}</span>
          <span>{{ finding.text }}</span>
          @if (finding.action; as action) {
            @if ('change' in action) {
              <button type="button" class="btn" (click)="plan(action.change)">{{ action.text }}</button>
            } @else if ('bench' in action) {
              <b>{{ action.text }}</b>
            } @else {
              <a class="btn" [routerLink]="['/craft', fleet.current()!.id, action.station]"
                >{{ action.text }}<small>{{ titles[action.station] }}</small></a
              >
            }
          }
        </li>
      }
    </ul>
  `,
  styles: `
    ul {
      list-style: none;
      padding: 0;
    }
    li {
      display: grid;
      grid-template-columns: 150px minmax(0, 1fr) auto;
      gap: var(--s4) var(--s6);
      align-items: center;
      font-size: var(--fs-body);
      padding: var(--s3) 0;
      border-bottom: 1px solid var(--rule-2);
    }
    .tag {
      justify-self: start;
    }
    b {
      max-width: 230px;
    }
    small {
      display: block;
      font: var(--fs-axis) var(--sans);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignalFindingsComponent {
  protected readonly fleet = inject(FleetStore);
  readonly findings = input.required<readonly SignalFinding[]>();
  readonly label = input('Findings');
  protected readonly titles = stationTitles;

  protected plan(change: Partial<ControllerPlan>): void {
    this.fleet.setController(change);
  }
}
