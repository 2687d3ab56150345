/**
 * An order ends with a look at what its writes left: a step that the journal calls done is held against what was read last,
 * since hours may lie between the two, and no later step need have read the same thing.
 */
import type {Found, FoundEsc} from '../../bench/found';
import type {ControllerConfig} from '../../controller/plan';
import {settingDifferences} from '../../controller/settings/planned-settings';
import {controllerDifferences, controllerFieldName} from '../../controller/fields';
import {findChip} from '../../firmware/chips';
import {identityOf} from '../../firmware/plan/planned-image';
import {contradict, type Contradiction} from './contradicted';
import type {RunContext} from '../run-context';
import {sameEsc} from './same-esc';

/**
 * Opens the steps whose work is not there any more, and throws, as it does where an ESC that was written could not be read;
 * returns where everything is as the order left it.
 */
export async function holdAgainstSteps(run: RunContext, found: Found): Promise<void> {
  const controller = controllerOtherwise(run, found);
  if (controller) await contradict(run, controller);
  for (const {output} of run.order.found.escs) {
    if (!run.order.steps.some((step) => run.touches(step).some(({at}) => at === output))) continue;
    const esc = sameEsc(run, found, output);
    const contradiction = (await firmwareOtherwise(run, esc)) ?? settingsOtherwise(run, esc);
    if (contradiction) await contradict(run, contradiction);
  }
}

async function firmwareOtherwise({order, kinds, host}: RunContext, esc: FoundEsc): Promise<Contradiction | undefined> {
  const chip = findChip(esc.boot.chip);
  const writes = order.steps.flatMap((step) => {
    const images = kinds.of(step).images?.(step);
    return images?.target.output === esc.output ? images.writes : [];
  });
  for (const {image, part} of chip ? writes : []) {
    const written = identityOf(await host.image(image.sha256), chip!.name, part);
    const held = part === 'base' ? esc.identity : esc.module;
    if (written && held?.bodyCrc32 !== written.bodyCrc32)
      return {
        ...{of: 'firmware', at: esc.output, place: `motor ${esc.output + 1}`},
        meaning: 'Read at the end, it does not hold the image that this order wrote.',
      };
  }
  return undefined;
}

function settingsOtherwise(run: RunContext, esc: FoundEsc): Contradiction | undefined {
  const last = run.order.steps.findLast(
    (step) => run.kinds.of(step).leaves && run.touches(step).some(({of, at}) => of === 'settings' && at === esc.output),
  );
  if (!last || run.kinds.of(last).leaves!(last, esc)) return undefined;
  return {
    ...{of: 'settings', at: esc.output, place: `motor ${esc.output + 1}`},
    meaning: 'Read at the end, it does not hold the settings that this order wrote.',
  };
}

function controllerOtherwise(run: RunContext, {controller}: Found): Contradiction | undefined {
  const at = {at: 'controller', place: 'flight controller'} as const;
  if (!controller) {
    const touch = run.order.steps.flatMap((step) => run.touches(step)).find((t) => t.at === 'controller');
    return touch && {...at, of: touch.of, meaning: 'At the end it is in its loader: nothing of it could be read.'};
  }
  const goals = run.order.steps.map((step) => run.kinds.of(step).controllerGoal?.(step));
  const {config} = controller;
  const lost = controllerDifferences(
    config,
    goals.reduce<ControllerConfig>((all, some) => ({...all, ...some}), config),
  );
  const others = run.order.steps.flatMap((step) => {
    const goal = run.kinds.of(step).settingsGoal?.(step);
    return settingDifferences(goal, controller.settings, controller.identity.version);
  });
  const missed = others.filter(({refusal}) => refusal === undefined);
  if (!lost.length && !missed.length) return undefined;
  const fields = [...lost.map(({field}) => controllerFieldName(field)), ...missed.map(({key}) => key)].join(', ');
  return {
    ...{...at, of: 'controller'},
    meaning: `Read at the end, it does not hold what this order set: ${fields}.`,
  };
}
