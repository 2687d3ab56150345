/** Starting plans for the usual classes of craft, and the ways to a new craft. */
import {airframe} from './airframes';
import type {Craft} from './craft';
import {guessedParts} from './guesses';
import {fiveInch} from './presets/five-inch';
import {heavyHex} from './presets/heavy-hex';
import {micro} from './presets/micro';
import type {Preset} from './presets/preset';
import {sevenInch} from './presets/seven-inch';

export type {Preset};
export const presets: readonly Preset[] = [micro, fiveInch, sevenInch, heavyHex];

/**
 * A new craft from a preset. Its rotation is not planned: nobody knows which way a motor turns until it was seen on the Spin
 * station.
 */
export function craftFromPreset(preset: Preset, identity: {readonly id: string; readonly name: string}): Craft {
  return {
    ...{...preset.craft, ...identity},
    arms: airframe(preset.airframe, preset.diagonalMm),
    guessed: [...guessedParts],
  };
}

/** A craft of which nothing is planned but its firmware: the survey tells the rest, and it is taken over from there. */
export function craftWithoutPlan(identity: {readonly id: string; readonly name: string}): Craft {
  const craft = craftFromPreset(
    presets.find((p) => p.id === 'five-inch')!,
    identity,
  );
  return {...craft, kind: 'quad', plan: {...craft.plan, parameters: {}}};
}

/** A single ESC on the bench: what it holds is read, and nothing is planned but its firmware. */
export function looseEsc(identity: {readonly id: string; readonly name: string}): Craft {
  const craft = craftWithoutPlan(identity);
  return {
    ...craft,
    ...{kind: 'one ESC on the bench', loose: true, guessed: undefined, escBoard: '', controllerBoard: ''},
    arms: airframe('one motor', 0).map((arm) => ({...arm, name: 'ESC'})),
    // Whatever supplies it on the bench is enough for one ESC.
    battery: {cells: 1, capacityMah: 1000},
    plan: {...craft.plan, controller: {...craft.plan.controller, arms: [0], replies: false}},
  };
}

/** A copy under another name; what was found and proven stays with the first. */
export const copyOf = (craft: Craft, identity: {readonly id: string; readonly name: string}): Craft => ({
  ...craft,
  ...identity,
  archived: false,
});

/** The next free name of a copy: "Juniper 2". */
export function nextName(name: string, taken: readonly string[]): string {
  let n = 2;
  while (taken.includes(`${name} ${n}`)) n++;
  return `${name} ${n}`;
}
