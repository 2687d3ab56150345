/** What stands out in a survey, in sentences: siblings that differ, and what is not as planned. */
import {withWholePlan} from '../craft/whole-plan';
import {controllerFieldName, lackedFields} from '../controller/fields';
import {firmwareText, type Found, type FoundEsc} from '../bench/found';
import {oddOnesOut} from '../bench/odd-one-out';
import type {Craft} from '../craft/craft';
import {motorList} from '../motor-list';
import {firmwareName} from '../firmware/firmware-plan';
import {parameterDefinitions} from '../settings/definitions';
import {findDifferences, judgeParameter} from './difference';
import type {Remark} from '../remark';

export function surveyFindings(craft: Craft, found: Found): Remark[] {
  const out = [...oddFirmware(found), ...oddSettings(craft, found), ...notAsPlanned(craft, found)];
  return out.length || found.silent.length
    ? out
    : [{tag: 'ok', word: 'as planned', text: 'Everything found is what the plan says.'}];
}

const oddFirmware = (found: Found): Remark[] =>
  oddOnesOut(found.escs, firmwareText).map((esc) => ({
    tag: 'diff',
    word: 'odd one out',
    text: esc.identity
      ? `motor ${esc.output + 1} runs ${firmwareText(esc)}, its siblings do not. Left behind at an update.`
      : `motor ${esc.output + 1} runs ${firmwareText(esc)}. ${whoKnows(esc)}`,
  }));

const oddSettings = (craft: Craft, found: Found): Remark[] =>
  parameterDefinitions.flatMap((definition): Remark[] => {
    const {kind, text, symptom} = judgeParameter(definition, craft, found);
    // Rotation is a matter of wiring: Spin tells it.
    return kind === 'differs' && symptom && definition.key !== 'rotation'
      ? [{tag: 'diff', word: 'odd one out', text: `${definition.name}, ${text}. In flight: ${symptom}.`}]
      : [];
  });

function notAsPlanned(craft: Craft, found: Found): Remark[] {
  const {plan, arms} = withWholePlan(craft);
  const {firmware, parameters, controller} = findDifferences(plan, found);
  const behind = firmware.map((f) => f.output);
  const keys = new Set(parameters.map((p) => p.key)).size;
  const out: Remark[] = [];
  if (behind.length)
    out.push({
      tag: 'plan',
      word: 'firmware',
      text: `${motorList(behind, arms.length)} not at ${firmwareName(plan.firmware)} yet.`,
    });
  if (keys)
    out.push({
      tag: 'plan',
      word: 'settings',
      text: `${keys} ${keys === 1 ? 'parameter is' : 'parameters are'} not as planned.`,
    });
  if (controller.length)
    out.push({
      tag: 'plan',
      word: 'controller',
      text: `${controller.length} ${controller.length === 1 ? 'field' : 'fields'} of the flight controller ${controller.length === 1 ? 'is' : 'are'} not as planned.`,
    });
  const lacked = found.controller ? lackedFields(found.controller.config, plan.controller) : [];
  if (lacked.length)
    out.push({
      tag: 'plan',
      word: 'controller',
      text: `The flight controller's firmware does not have: ${lacked.map(controllerFieldName).join(', ')}. What is planned there is not written.`,
    });
  return out;
}

const whoKnows = (esc: FoundEsc): string =>
  esc.claim
    ? `${esc.claim.by} confirmed its board, ${esc.claim.board}.`
    : esc.hardware
      ? 'Its board is known from an earlier survey.'
      : 'Its board has to be confirmed on the Firmware station.';
