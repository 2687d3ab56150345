import {ChangeDetectionStrategy, Component, inject} from '@angular/core';
import {TableModule} from 'primeng/table';
import {surveySheet} from '@core/sheets/survey/survey';
import {ConnectComponent} from '../../shared/connect.component';
import {CraftDrawingComponent} from '../../shared/craft-drawing.component';
import {ProblemComponent} from '../../shared/problem.component';
import {ArmRoundComponent} from './arm-round.component';
import {ReplacedPartsComponent} from './replaced-parts.component';
import {rowsBy} from '../../shared/row-track';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {CraftQuestionStore} from '../../state/craft-question.store';

/** Survey station: who is on the bench and what is missing. */
@Component({
  selector: 'bx-survey',
  imports: [
    TableModule,
    ConnectComponent,
    CraftDrawingComponent,
    ProblemComponent,
    ArmRoundComponent,
    ReplacedPartsComponent,
  ],
  templateUrl: './survey.component.html',
  styles: `
    .head {
      display: flex;
      justify-content: space-between;
      align-items: flex-start;
      gap: var(--s8);
    }
    .cols {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 210px minmax(0, 1fr);
      gap: var(--s9);
      margin-top: var(--s4);
    }
    figure {
      margin: var(--s7) 0 0;
    }
    figcaption {
      text-align: center;
      font-size: var(--fs-note);
      color: var(--ink-2);
    }
    .fit {
      display: grid;
      grid-template-columns: 170px 1fr;
      font-size: var(--fs-body);
    }
    .fit > * {
      padding: var(--s2) 0;
      border-bottom: 1px solid var(--rule-2);
    }
    .motor {
      white-space: nowrap;
    }
    ul {
      list-style: none;
      padding: var(--s3) 0;
      font-size: var(--fs-body);
    }
    li {
      padding: var(--s2) 0;
      border-bottom: 1px solid var(--rule-2);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SurveyComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly craft = inject(FleetStore).current;
  protected readonly sheet = inject(CraftQuestionStore).sheet(surveySheet);
  protected readonly byOutput = rowsBy((esc: {readonly output: number}) => esc.output);

  protected when(at: number): string {
    return new Date(at).toLocaleTimeString('en-GB');
  }
}
