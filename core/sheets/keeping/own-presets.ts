/** What a preset would change of the craft in hand: one of a person's own, or one of a class, applied part by part. */
import type {Craft} from '../../craft/craft';
import {applyPreset, craftChanges, presetParts, type OwnPreset, type PresetPart} from '../../craft/own-presets';
import {craftFromPreset, presets} from '../../craft/presets';
import type {Choice} from '../choice';
export {presetParts, type PresetPart};

/** What is picked, and which parts of it. */
interface PickedPreset {
  readonly id: string | undefined;
  readonly parts: readonly PresetPart[];
}

interface PresetSheet {
  readonly choices: Choice<string>[];
  readonly picked: OwnPreset | undefined;
  readonly isOwn: boolean;
  /** The craft with the picked parts; undefined while nothing is picked. */
  readonly applied: Craft | undefined;
  readonly changes: ReturnType<typeof craftChanges>;
}

/** Presets of the classes, as something that can be applied part by part. */
const classes: readonly OwnPreset[] = presets.map((p) => ({
  ...{id: p.id, name: p.name, note: p.about, at: 0},
  craft: craftFromPreset(p, {id: p.id, name: p.name}),
}));

export function presetSheet(craft: Craft, own: readonly OwnPreset[], {id, parts}: PickedPreset): PresetSheet {
  const picked = [...own, ...classes].find((preset) => preset.id === id);
  const applied = picked && applyPreset(craft, picked, parts);
  return {
    choices: [
      ...own.map((p) => ({label: `${p.name}, your own`, value: p.id})),
      ...classes.map((p) => ({label: p.name, value: p.id})),
    ],
    ...{picked, applied, isOwn: own.some((preset) => preset.id === id)},
    changes: applied ? craftChanges(craft, applied) : [],
  };
}
