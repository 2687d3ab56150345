/** Reads every setting back and holds it against the plan. */
import * as z from 'zod';
import type {Found} from '../../bench/found';
import {findDifferences, type Differences, type ParameterDifference} from '../../compare/difference';
import {textOf} from '../../controller/settings/carry-settings';
import type {SettingDifference} from '../../controller/settings/planned-settings';
import {formatControllerField} from '../../controller/fields';
import {longestSurveyMs} from '../../order/estimated-time';
import {stepText} from '../../order/step-schemas';
import type {StepKind, StepOf} from '../../order/steps';
import {countOf, isSome} from '../../proof/proof';
import type {ParameterKey} from '../../settings/definitions';
import {outputSchema} from '../../schemas';
import {settingsRow} from '../proof-rows';
import {contradict, type Contradiction} from '../resume/contradicted';
import type {RunContext} from '../run-context';
import {sameEsc} from '../resume/same-esc';
import type {RunnableKind} from '../steps/runnable-kind';
import {isReadAtOnce} from './prove-pages';

declare module '../../order/steps' {
  interface StepShapes {
    'prove-settings': {readonly outputs: readonly number[]};
  }
}

export const proveSettings: RunnableKind<'prove-settings'> = {
  kind: 'prove-settings',
  shape: z.object({...stepText, kind: z.literal('prove-settings'), outputs: z.array(outputSchema)}),
  plan({craft, found, works}) {
    if (!isReadAtOnce(craft, found)) return [];
    const escs = works.map((w) => w.order.esc);
    return [
      {
        id: 'prove-settings',
        kind: 'prove-settings',
        title: 'Prove the settings',
        note: 'read back every setting, compare with the plan',
        outputs: escs.map((e) => e.output),
        estimateMs: longestSurveyMs(escs),
      },
    ];
  },
  // A roll-back puts pages back byte for byte, each checked as it is written: there is no plan to compare with.
  inverse: () => [],
  touches: () => [],
  follows: ['loader', 'firmware', 'settings', 'controller'],
  run: (run, [step]) => readBack(run, step),
};

async function readBack(run: RunContext, step: StepOf<'prove-settings'>): Promise<void> {
  await run.note(step, 'begin', 'Reading every setting back.');
  const found = await run.readAll((share, text) => run.progress(step, share, `Reading back, ${text}`));
  run.found = found;
  run.host.onFound?.(found);
  const outputs = step.outputs.filter((output) => !run.isolated.has(output));
  const own = {...found, escs: found.escs.filter((e) => outputs.includes(e.output))};
  for (const output of outputs) sameEsc(run, found, output);
  const differences = wantedDifferences(run, own);
  const first = firstContradiction(differences);
  if (first) await contradict(run, first);
  const refused = differences.settings.find(({refusal}) => refusal !== undefined);
  if (refused)
    return run.end(
      step,
      `${refused.key} is planned, and the flight controller cannot hold that. ${refused.refusal} Nothing is proven: take it out of the plan on the Parameters station, then make a new order.`,
    );
  const count = countOf(own.escs.reduce((sum, e) => sum + Object.keys(e.settings?.values ?? {}).length, 0));
  const on = own.escs.map(({output, boot: {serial}}) => ({output, serial}));
  if (count === undefined || !isSome(on)) return run.end(step, 'No setting could be read: nothing is proven by it.');
  const config = found.controller?.config;
  const controller = config
    ? `; ${formatControllerField('protocol', config.protocol)} with replies ${config.replies ? 'on' : 'off'} in the flight controller`
    : '';
  await run.prove(step, settingsRow, {text: `${count} ESC settings read back${controller}`, on, count, found});
}

function firstContradiction({
  firmware,
  parameters,
  controller,
  melodies,
  settings,
}: Differences): Contradiction | undefined {
  const [setting, field, image, melody] = [parameters[0], controller[0], firmware[0], melodies[0]];
  const other = settings.find(({refusal}) => refusal === undefined);
  if (setting)
    return {
      place: `${setting.key} of motor ${setting.output + 1}`,
      meaning: 'Read back, it is not what the plan says.',
      at: setting.output,
      of: 'settings',
    };
  if (field)
    return {
      place: field.field,
      meaning: `Read back, the flight controller holds ${field.from} and not ${field.to}.`,
      at: 'controller',
      of: 'controller',
    };
  if (other) return notHeld(other);
  if (melody)
    return {
      place: `melody of motor ${melody.output + 1}`,
      meaning: 'Read back, it is not what the plan says.',
      at: melody.output,
      of: 'settings',
    };
  return (
    image && {
      place: `motor ${image.output + 1}`,
      meaning: `Read back, it runs ${image.from} and not ${image.to}.`,
      at: image.output,
      of: 'firmware',
    }
  );
}

const notHeld = ({key, from, to}: SettingDifference): Contradiction => ({
  ...{place: key, at: 'controller', of: 'controller'},
  meaning: `Read back, the flight controller holds ${textOf(from!)} and not ${textOf(to)}.`,
});

/** Where the bench is not as this order should have left it. What a person left out of the order is not its business. */
function wantedDifferences(run: RunContext, found: Found): Differences {
  const {plan, leftSteps = [], steps} = run.order;
  const all = findDifferences(plan, found);
  const isLeft = (kind: StepKind) => leftSteps.includes(kind);
  const targets = steps.flatMap((s) => (s.kind === 'set-parameters' ? s.targets : []));
  const carried = found.escs.flatMap(({output, settings}): ParameterDifference[] => {
    const values = targets.find((t) => t.output === output)?.values ?? {};
    return (Object.keys(values) as ParameterKey[]).flatMap((key) => {
      const [from, to] = [settings?.values[key], values[key]!];
      return from === to ? [] : [{key, output, from, to}];
    });
  });
  return {
    firmware: isLeft('write-firmware') ? [] : all.firmware,
    parameters: isLeft('set-parameters') ? carried : all.parameters,
    controller: isLeft('set-controller') || run.controllerLost ? [] : all.controller,
    melodies: isLeft('set-parameters') ? [] : all.melodies,
    settings: isLeft('set-settings') || run.controllerLost ? [] : all.settings,
  };
}
