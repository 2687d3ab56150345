/** What a sighting says is wrong, and on which side it is best changed: nobody has to unplug a wire. */
import type {Found} from '../../bench/found';
import {plannedFor, wantedDirections, type Craft} from '../../craft/craft';
import {bothWays} from '../../settings/parameters/special-values';
import {tellsSense, type Sighting} from '../sighting/sighting';

interface Wrong {
  readonly what: string;
  /** Where it is best changed. */
  readonly side: 'output map of the flight controller' | 'rotation setting of the ESC' | 'two of its motor wires';
  /** The plan has it already: the work order is what is missing. */
  readonly planned: boolean;
}

/** Nothing where the output moves the arm that the flight controller takes it for, the way it must turn. */
export function whatIsWrong(craft: Craft, found: Found | undefined, seen: Sighting): Wrong[] {
  const {output, arm, sense, rotationSetting} = seen;
  const {arms} = craft.plan.controller;
  const mapped = seen.mappedArm ?? found?.controller?.config.arms[output];
  const wrong: Wrong[] = [];
  if (mapped !== undefined ? mapped !== arm : arms[output] !== arm)
    wrong.push({
      what: `the flight controller takes it for ${craft.arms[mapped ?? arms[output] ?? -1]?.name ?? 'another arm'}`,
      side: 'output map of the flight controller',
      planned: arms[output] === arm,
    });
  if (!tellsSense(seen))
    wrong.push({
      what: 'its ESC turns both ways: which way it was seen to turn depends on the throttle',
      side: 'rotation setting of the ESC',
      planned: [0, 1].includes(plannedFor(craft.plan.parameters['rotation'], output) ?? bothWays),
    });
  else if (sense !== wantedDirections(craft)[arm]) {
    const isSettable = rotationSetting === 0 || rotationSetting === 1;
    wrong.push({
      what: 'it turns the wrong way',
      side: isSettable ? 'rotation setting of the ESC' : 'two of its motor wires',
      planned: isSettable && plannedFor(craft.plan.parameters['rotation'], output) === 1 - rotationSetting,
    });
  }
  return wrong;
}
