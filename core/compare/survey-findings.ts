/** What stands out in a survey, in sentences: siblings that differ, and what is not as planned. */
import {wholePlan, withWholePlan} from '../craft/whole-plan';
import {controllerFieldName, lackedFields} from '../controller/fields';
import {firmwareText, type Found, type FoundEsc} from '../bench/found';
import type {Craft} from '../craft/craft';
import {counted} from '../words/counted';
import {motorList} from '../words/motor-list';
import {parameterDefinitions} from '../settings/definitions';
import {maxVolts} from './rules/pack';
import type {BoardRating} from './rules/rule';
import {findDifferences, judgeParameter, type Differences} from './difference';
import type {Remark} from '../remark';
import {oddFirmware} from './odd-firmware';

/**
 * @param board what the ESC boards are rated for, where it is known.
 * @param differences plan against found, where that has been computed already.
 */
export function surveyFindings(
  craft: Craft,
  found: Found,
  board?: BoardRating,
  differences = findDifferences(wholePlan(craft), found),
): Remark[] {
  const out = [
    ...tooManyVolts(found, board),
    ...unreadSettings(found),
    ...leftBehind(craft, found),
    ...oddSettings(craft, found),
    ...notAsPlanned(craft, found, differences),
  ];
  return out.length || found.silent.length
    ? out
    : [{tag: 'ok', word: 'as planned', text: 'Everything found is what the plan says.'}];
}

/** Above the label by more than a full pack's own spread, V: a cell may be charged to 4.35 V. */
const spareVolts = 0.5;

function tooManyVolts({power}: Found, board: BoardRating | undefined): Remark[] {
  const most = board && maxVolts(board);
  if (!board || most === undefined || power.volts <= most + spareVolts) return [];
  return [
    {
      tag: 'diff',
      word: 'battery',
      text: `The pack has ${power.volts.toFixed(1)} V; ${board.name} is made for ${board.cells}, at most ${most.toFixed(1)} V. Unplug it now: its ESCs may burn at any moment.`,
    },
  ];
}

const unreadSettings = ({controller}: Found): Remark[] =>
  controller?.unread
    ? [
        {
          ...{tag: 'diff', word: 'not read'},
          text: 'The flight controller describes its settings, and long transfers get lost on the way: plug the cable straight into the computer, without a hub, and survey again. Its firmware is not written until then.',
        },
      ]
    : [];

const leftBehind = ({plan}: Craft, found: Found): Remark[] =>
  oddFirmware(plan, found.escs).map((esc) => ({
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

function notAsPlanned(craft: Craft, found: Found, {firmware, parameters, controller, settings}: Differences): Remark[] {
  const {plan, arms} = withWholePlan(craft);
  const keys = new Set(parameters.map((p) => p.key)).size;
  const out: Remark[] = [];
  for (const to of new Set(firmware.map((f) => f.to))) {
    const outputs = firmware.flatMap((f) => (f.to === to ? [f.output] : []));
    out.push({tag: 'plan', word: 'firmware', text: `${motorList(outputs, arms.length)} not at ${to} yet.`});
  }
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
  out.push(...otherSettings(settings));
  const lacked = found.controller ? lackedFields(found.controller.config, plan.controller) : [];
  if (lacked.length)
    out.push({
      tag: 'plan',
      word: 'controller',
      text: `The flight controller's firmware does not have: ${lacked.map(controllerFieldName).join(', ')}. What is planned there is not written.`,
    });
  return out;
}

function otherSettings(settings: Differences['settings']): Remark[] {
  if (!settings.length) return [];
  const text = `${counted(settings.length, 'other setting')} of the flight controller ${settings.length === 1 ? 'is' : 'are'} not as planned.`;
  const refused = settings.filter(({refusal}) => refusal !== undefined);
  return [
    {tag: 'plan', word: 'controller', text},
    ...refused.map(({key, refusal}): Remark => ({
      ...{tag: 'diff', word: 'controller'},
      text: `${key} is planned, and the flight controller cannot hold that. ${refusal} Take it out of the plan on the Parameters station.`,
    })),
  ];
}

const whoKnows = (esc: FoundEsc): string =>
  esc.claim
    ? `${esc.claim.by} confirmed its board, ${esc.claim.board}.`
    : esc.hardware
      ? 'Its board is known from an earlier survey.'
      : 'Its board has to be confirmed on the Firmware station.';
