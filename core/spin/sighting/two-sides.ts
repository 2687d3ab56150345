/**
 * Rotation has two sides: the motors, as they were seen to turn, and the flight controller, as it was told. A craft on which one
 * side alone is right turns over or spins up as soon as it leaves the ground.
 */
import {mixerDifferences} from '../../craft/compare-mixer';
import {steersByMotors, wantedDirections, type Craft} from '../../craft/craft';
import {mixerOf} from '../../craft/mixer';
import {counted} from '../../words/counted';
import {isOutdated, tellsSense, type Sighting, type SightingQuestion} from './sighting';

interface TwoSides {
  readonly kind: 'agree' | 'would flip' | 'not seen' | 'not reported';
  /** Way the motors turn as a whole; undefined until all were seen, and where they turn neither way. */
  readonly motors: Craft['props'] | 'neither' | undefined;
  /** Way the flight controller was told; undefined where its firmware does not tell it, or nobody asked. */
  readonly controller: Craft['props'] | undefined;
  readonly text: string;
}

export function twoSides(q: SightingQuestion, sightings: readonly Sighting[]): TwoSides {
  const {craft, found} = q;
  const controller = found?.controller?.config.props;
  const fresh = sightings.filter((s) => !isOutdated(s, q) && tellsSense(s));
  const motors = fresh.length < craft.arms.length ? undefined : motorsTurn(craft, fresh);
  const sides = {motors, controller};
  if (!steersByMotors(craft)) return besideServos(sides, craft.arms.length - fresh.length);
  if (controller === undefined)
    return {
      ...sides,
      kind: 'not reported',
      text: found?.controller
        ? 'This flight controller does not report its rotation direction: compare it by hand before the first take-off.'
        : 'The flight controller has not been read yet, so its rotation direction is unknown.',
    };
  const told = `the flight controller is set to props ${controller}`;
  const wrongMixer = mixesOtherwise(q);
  const mixed: TwoSides | undefined =
    wrongMixer === undefined ? undefined : {...sides, kind: 'would flip', text: `${wrongMixer} ${cure}`};
  if (motors === undefined) {
    if (controller !== craft.props)
      return {...sides, kind: 'would flip', text: `Planned is props ${craft.props}; ${told}. ${cure}`};
    if (mixed) return mixed;
    const left = craft.arms.length - fresh.length;
    return {
      ...sides,
      kind: 'not seen',
      text: `${left} of ${craft.arms.length} motors have not been seen turning yet; ${told}.`,
    };
  }
  const turn = motors === 'neither' ? 'The motors turn neither in nor out' : `The motors turn as props ${motors}`;
  if (motors !== controller) return {...sides, kind: 'would flip', text: `${turn}, ${told}. ${cure}`};
  if (motors !== craft.props)
    return {...sides, kind: 'would flip', text: `${turn} and ${told}, but planned is props ${craft.props}. ${cure}`};
  if (mixed) return mixed;
  return {...sides, kind: 'agree', text: `The motors turn as props ${motors}, and ${told}.`};
}

/** No mixer of motors can turn such a craft over: which way each motor turns is seen, and that is all there is. */
const besideServos = (sides: Pick<TwoSides, 'motors' | 'controller'>, left: number): TwoSides => ({
  ...sides,
  kind: left ? 'not seen' : 'agree',
  text: left
    ? `${counted(left, 'motor has', 'motors have')} not been seen turning yet.`
    : 'The motors turn as planned. Servos steer this craft: which way they move is not seen here.',
});

const cure = 'It would flip at take-off. One work order sets both sides.';

/** A column of the controller's own mixer that acts the other way round on some output, in words; undefined where none does. */
function mixesOtherwise({craft, found}: SightingQuestion): string | undefined {
  const {mixer, config} = found?.controller ?? {};
  const off =
    mixer &&
    config &&
    mixerDifferences(mixer, {mixer: mixerOf(craft.arms, wantedDirections(craft)), arms: config.arms});
  return off?.find(({held, wanted}) => held * wanted < 0)?.text;
}

function motorsTurn(craft: Craft, sightings: readonly Sighting[]): Craft['props'] | 'neither' {
  const turnAs = (props: Craft['props']) => {
    const senses = wantedDirections({...craft, props});
    return sightings.every((s) => s.sense === senses[s.arm]);
  };
  return turnAs('out') ? 'out' : turnAs('in') ? 'in' : 'neither';
}
