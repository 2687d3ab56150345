/** What a new craft can start from, with the reasons of each plan, and whether its name is free. */
import {airframeOf} from '../../craft/airframes';
import type {Craft} from '../../craft/craft';
import type {OwnPreset} from '../../craft/own-presets';
import {copyOf, craftFromPreset, craftWithoutPlan, looseEsc, presets, type Preset} from '../../craft/presets';
import {firmwareName} from '../../firmware/plan/firmware-plan';
import {withEstimatedWinding} from '../../motor/model';
import {definitionOf, type ParameterKey} from '../../settings/definitions';

interface StartingPlan {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly details: string;
  readonly reasons: readonly {readonly name: string; readonly text: string}[];
}

interface NewCraftSheet {
  readonly plans: readonly StartingPlan[];
  readonly picked: StartingPlan;
  /** Why it cannot be called so; empty where it can, and where nothing was typed. */
  readonly fault: string;
  readonly canCreate: boolean;
  /** What the button says. */
  readonly create: string;
}

const foundId = 'found';
const looseId = 'loose';

export function newCraftSheet(
  own: readonly OwnPreset[],
  crafts: readonly Craft[],
  {pickedId, typed}: {readonly pickedId: string; readonly typed: string},
): NewCraftSheet {
  const plans = [...presets.map(ofPreset), ...own.map(ofOwn), ofFound, ofLoose];
  const name = typed.trim();
  const isTaken = crafts.some((c) => c.name === name);
  return {
    ...{plans, picked: plans.find((p) => p.id === pickedId) ?? plans[0]!},
    fault: isTaken ? `There is a craft called ${name} already.` : '',
    canCreate: name !== '' && !isTaken,
    create: `Create ${name || 'craft'}`,
  };
}

const details = ({plan, escBoard}: Pick<Craft, 'plan' | 'escBoard'>, airframe: string): string =>
  `${firmwareName(plan.firmware)}, ${escBoard}, ${airframe}`;

const ofPreset = ({id, name, about, craft, airframe, reasons}: Preset): StartingPlan => ({
  ...{id, name, about, details: details(craft, airframe)},
  reasons: Object.entries(reasons).map(([key, text]) => ({name: definitionOf(key as ParameterKey).name, text})),
});

const ofOwn = ({id, name, note, craft}: OwnPreset): StartingPlan => ({
  ...{id, name: `${name}, your own`, about: note || 'Kept from a craft of yours.', reasons: []},
  details: details(craft, airframeOf(craft.arms) ?? `${craft.arms.length} arms`),
});

const ofFound: StartingPlan = {
  id: foundId,
  name: 'What is found on the bench',
  about: 'No parameter is planned: after the survey, the Parameters station takes over what the ESCs hold.',
  details: 'enter motors, battery and boards on the Craft station',
  reasons: [],
};

const ofLoose: StartingPlan = {
  id: looseId,
  name: 'One ESC on the bench',
  about:
    'A spare, a friend’s, or one before it is mounted: read, written and set on a single-wire adapter, without a craft.',
  details: 'nothing is entered; what it is comes from the ESC',
  reasons: [],
};

/** The craft that a starting plan makes. */
export function newCraft(
  pickedId: string,
  own: readonly OwnPreset[],
  identity: {readonly id: string; readonly name: string},
): Craft {
  if (pickedId === looseId) return looseEsc(identity);
  const kept = own.find((o) => o.id === pickedId);
  if (kept) return copyOf(kept.craft, identity);
  const preset = presets.find((p) => p.id === pickedId);
  return withEstimatedWinding(preset ? craftFromPreset(preset, identity) : craftWithoutPlan(identity));
}
