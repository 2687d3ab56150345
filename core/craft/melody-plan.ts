/** Changes of the planned start-up melodies: a melody of one's own is played by ESCs that are told to play it. */
import {ownMelody} from '../settings/parameters/special-values';
import {plannedMelody, type Craft} from './craft';

type Melodies = NonNullable<Craft['plan']['melodies']>;
export type MelodyKind = Melodies['kind'];

/** What a new melody begins with: three notes that rise, our own. */
export const firstMelody = 'rise:d=8,o=5,b=180:c,e,g,4c6';

/** The craft with these melodies planned. */
export const withMelodies = (craft: Craft, melodies: Melodies): Craft => ({
  ...craft,
  plan: {...craft.plan, melodies, parameters: {...craft.plan.parameters, melody: {kind: 'same', value: ownMelody}}},
});

/** The craft with no melody planned: its ESCs play their three tones. */
export function withoutMelodies(craft: Craft): Craft {
  const {firmware, controller, parameters} = craft.plan;
  return {...craft, plan: {firmware, controller, parameters: {...parameters, melody: {kind: 'same', value: 0}}}};
}

/** One text for all, or a voice for each motor, each beginning with what the first one had. */
export function withMelodyKind(craft: Craft, kind: MelodyKind): Craft {
  if (craft.plan.melodies?.kind === kind) return craft;
  const text = plannedMelody(craft.plan, 0) ?? firstMelody;
  return withMelodies(craft, kind === 'same' ? {kind, text} : {kind, texts: craft.arms.map(() => text)});
}

/** The text of one motor's voice, or of the one melody for all. */
export function withMelodyText(craft: Craft, motor: number, text: string): Craft {
  const {melodies} = craft.plan;
  if (melodies?.kind !== 'per motor') return withMelodies(craft, {kind: 'same', text});
  return withMelodies(craft, {kind: 'per motor', texts: melodies.texts.map((own, m) => (m === motor ? text : own))});
}
