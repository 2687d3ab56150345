import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {TableModule} from 'primeng/table';
import {poweredVolts, withBatteryOn} from '@core/bench/battery';
import {firmwareText, hasReplies} from '@core/bench/found';
import {surveyFindings} from '@core/compare/survey-findings';
import {chainFields} from '@core/controller/chain-of';
import {controllerFields, formatControllerField} from '@core/controller/fields';
import {ConnectComponent} from '../../shared/connect.component';
import {ProblemComponent} from '../../shared/problem.component';
import {ArmRoundComponent} from './arm-round.component';
import {ReplacedPartsComponent} from './replaced-parts.component';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {ShelfStore} from '../../state/shelf.store';
import {RecordStore} from '../../state/record.store';

/** Survey station: who is on the bench and what is missing. */
@Component({
  selector: 'bx-survey',
  imports: [TableModule, ConnectComponent, ProblemComponent, ArmRoundComponent, ReplacedPartsComponent],
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
      grid-template-columns: 1fr 1fr;
      gap: var(--s9);
      margin-top: var(--s4);
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
  private readonly shelf = inject(ShelfStore);
  protected readonly record = inject(RecordStore);
  private readonly fleet = inject(FleetStore);

  /** Found data go stale when the battery or the cable was out since. */
  protected readonly stale = computed(
    () =>
      !this.bench.isConnected() ||
      this.bench.power()?.cycles !== this.record.found()?.power.cycles ||
      !this.bench.isPowered(),
  );

  protected readonly controller = computed(() => {
    const config = this.record.found()?.controller?.config;
    const rows = controllerFields.map(({field, name}) => {
      const value = config?.[field];
      const isFilter = chainFields.some((f) => f === field);
      return {name, isFilter, value: value === undefined ? 'not in its firmware' : formatControllerField(field, value)};
    });
    return {main: rows.filter((r) => !r.isFilter), filters: rows.filter((r) => r.isFilter)};
  });

  /** What stands out, in sentences. */
  protected readonly findings = computed(() => {
    const [craft, found] = [this.fleet.current(), this.record.found()];
    return craft && found ? surveyFindings(craft, found, this.shelf.boardOf(craft)) : [];
  });

  protected readonly firmwareText = firmwareText;
  protected readonly hasReplies = hasReplies;
  protected readonly silent = computed(() =>
    (this.record.found()?.silent ?? [])
      .filter((s) => s.problem.code !== 'not-visited')
      .map(({output, problem}) => ({
        output,
        problem: withBatteryOn(problem, this.bench.isPowered(), this.record.found()!.power.volts <= poweredVolts),
      })),
  );

  protected when(at: number): string {
    return new Date(at).toLocaleTimeString('en-GB');
  }
}
