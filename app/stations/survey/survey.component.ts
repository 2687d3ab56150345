import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {TableModule} from 'primeng/table';
import {firmwareName} from '@core/firmware/firmware-plan';
import {firmwareText, hasReplies, type FoundEsc} from '@core/bench/found';
import {oddOnesOut} from '@core/bench/odd-one-out';
import {controllerFields, formatControllerField} from '@core/controller/fields';
import {parameterDefinitions} from '@core/settings/definitions';
import {findDifferences, judgeParameter} from '@core/compare/difference';
import {motorList} from '@core/craft/motor-list';
import {ConnectComponent} from '../../shared/connect.component';
import {ProblemComponent} from '../../shared/problem.component';
import {ArmRoundComponent} from './arm-round.component';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';

/** Survey station: who is on the bench and what is missing. */
@Component({
  selector: 'bx-survey',
  imports: [TableModule, ConnectComponent, ProblemComponent, ArmRoundComponent],
  templateUrl: './survey.component.html',
  styles: `
    .head {
      display: flex;
      justify-content: space-between;
      align-items: flex-start;
      gap: 20px;
    }
    .cols {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 26px;
      margin-top: 8px;
    }
    .fit {
      display: grid;
      grid-template-columns: 170px 1fr;
      font-size: 13px;
    }
    .fit > * {
      padding: 4px 0;
      border-bottom: 1px solid var(--rule-2);
    }
    ul {
      list-style: none;
      padding: 6px 0;
      font-size: 13px;
    }
    li {
      padding: 4px 0;
      border-bottom: 1px solid var(--rule-2);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SurveyComponent {
  protected readonly bench = inject(BenchStore);
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
    return config
      ? controllerFields.map(({field, name}) => ({name, value: formatControllerField(field, config[field])}))
      : [];
  });

  /** What stands out, in sentences. */
  protected readonly findings = computed(() => {
    const found = this.record.found();
    const craft = this.fleet.current();
    if (!found || !craft) return [];
    const all = craft.arms.length;
    const out: {tag: 'diff' | 'plan' | 'ok'; word: string; text: string}[] = [];
    for (const esc of oddOnesOut(found.escs, firmwareText))
      out.push({
        tag: 'diff',
        word: 'odd one out',
        text: esc.identity
          ? `motor ${esc.output + 1} runs ${firmwareText(esc)}, its siblings do not. Left behind at an update.`
          : `motor ${esc.output + 1} runs ${firmwareText(esc)}. ${whoKnows(esc)}`,
      });
    const d = findDifferences(craft.plan, found);
    const behind = d.firmware.map((f) => f.output);
    if (behind.length)
      out.push({
        tag: 'plan',
        word: 'firmware',
        text: `${motorList(behind, all)} not at ${firmwareName(craft.plan.firmware)} yet.`,
      });
    for (const definition of parameterDefinitions) {
      const {kind, text, symptom} = judgeParameter(definition, craft, found);
      // Rotation is a matter of wiring: Spin tells it.
      if (kind === 'differs' && symptom && definition.key !== 'rotation')
        out.push({tag: 'diff', word: 'odd one out', text: `${definition.name}, ${text}. In flight: ${symptom}.`});
    }
    if (d.parameters.length)
      out.push({
        tag: 'plan',
        word: 'settings',
        text: `${new Set(d.parameters.map((p) => p.key)).size} parameters are not as planned.`,
      });
    if (d.controller.length)
      out.push({
        tag: 'plan',
        word: 'controller',
        text: `${d.controller.length} fields of the flight controller are not as planned.`,
      });
    if (!out.length && !found.silent.length)
      out.push({tag: 'ok', word: 'as planned', text: 'Everything found is what the plan says.'});
    return out;
  });

  protected readonly firmwareText = firmwareText;
  protected readonly hasReplies = hasReplies;
  protected readonly silent = computed(() =>
    (this.record.found()?.silent ?? []).filter((s) => s.problem.code !== 'not-visited'),
  );

  protected when(at: number): string {
    return new Date(at).toLocaleTimeString('en-GB');
  }
}

const whoKnows = (esc: FoundEsc): string =>
  esc.claim
    ? `${esc.claim.by} confirmed its board, ${esc.claim.board}.`
    : esc.hardware
      ? 'Its board is known from an earlier survey.'
      : 'Its board has to be confirmed on the Firmware station.';
