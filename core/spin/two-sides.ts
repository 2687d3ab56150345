/**
 * Rotation has two sides: the motors, as they were seen to turn, and the flight controller, as it was told. A craft on which one
 * side alone is right turns over or spins up as soon as it leaves the ground.
 */
import type {Found} from '../bench/found';
import {wantedSenses, type Craft} from '../craft/craft';
import {sightingHolds, type Sighting} from './sighting';

export interface TwoSides {
  readonly kind: 'agree' | 'would flip' | 'not seen' | 'not told';
  /** Way the motors turn as a whole; undefined until all were seen, and where they turn neither way. */
  readonly motors: Craft['props'] | 'neither' | undefined;
  /** Way the flight controller was told; undefined where its firmware does not tell it, or nobody asked. */
  readonly controller: Craft['props'] | undefined;
  readonly text: string;
}

export function twoSides(craft: Craft, found: Found | undefined, sightings: readonly Sighting[]): TwoSides {
  const controller = found?.controller?.config.props;
  const fresh = sightings.filter((s) => isFresh(s, found));
  const motors = fresh.length < craft.arms.length ? undefined : motorsTurn(craft, fresh);
  const sides = {motors, controller};
  if (controller === undefined)
    return {
      ...sides,
      kind: 'not told',
      text: found?.controller
        ? 'This flight controller does not tell its rotation sense: compare it by hand before the first take-off.'
        : 'The flight controller was not read yet, so nobody knows its rotation sense.',
    };
  const told = `the flight controller is set to props ${controller}`;
  if (motors === undefined) {
    if (controller !== craft.props)
      return {...sides, kind: 'would flip', text: `Planned is props ${craft.props}; ${told}. ${cure}`};
    const left = craft.arms.length - fresh.length;
    return {
      ...sides,
      kind: 'not seen',
      text: `${left} of ${craft.arms.length} motors were not seen turning yet; ${told}.`,
    };
  }
  const turn = motors === 'neither' ? 'The motors turn neither in nor out' : `The motors turn as props ${motors}`;
  if (motors !== controller) return {...sides, kind: 'would flip', text: `${turn}, ${told}. ${cure}`};
  if (motors !== craft.props)
    return {...sides, kind: 'would flip', text: `${turn} and ${told}, but planned is props ${craft.props}. ${cure}`};
  return {...sides, kind: 'agree', text: `The motors turn as props ${motors}, and ${told}.`};
}

const cure = 'It would flip at take-off. One work order sets both sides.';

/** What was seen counts while the ESC still holds the rotation setting of then. */
const isFresh = (s: Sighting, found: Found | undefined): boolean =>
  found?.escs.find((e) => e.output === s.output)?.settings?.values.rotation === s.rotationSetting;

function motorsTurn(craft: Craft, sightings: readonly Sighting[]): Craft['props'] | 'neither' {
  const turnAs = (props: Craft['props']) => {
    const senses = wantedSenses({...craft, props});
    return sightings.every((s) => s.sense === senses[s.arm]);
  };
  return turnAs('out') ? 'out' : turnAs('in') ? 'in' : 'neither';
}

/** Whether every motor was seen where and how it must turn, and the other side knows it. */
export const orderHolds = (craft: Craft, found: Found | undefined, sightings: readonly Sighting[]): boolean =>
  sightings.filter((s) => sightingHolds(s, craft, found)).length === craft.arms.length &&
  twoSides(craft, found, sightings).kind !== 'would flip';
