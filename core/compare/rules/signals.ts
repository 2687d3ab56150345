/** Rules between ESCs and the flight controller: protocol, replies, poles, rotation. */
import {budgetOf} from '../../controller/budget-of';
import {loadLimits} from '../../dshot/loop-budget';
import {hears, maxLoadText} from '../../controller/signal-pair';
import {bitUs, isDigital, protocolName} from '../../dshot/protocol';
import {plannedMixer} from '../../craft/own-mixer';
import {mixerDifferences} from '../../craft/compare-mixer';
import {steersByMotors, wantedDirections, type RotationDirection} from '../../craft/craft';
import {mixerOf} from '../../craft/mixer';
import {plannedFirmware} from '../../craft/motor-firmware';
import {findChip} from '../../firmware/chips';
import {releaseOf, type Release} from '../../firmware/releases';
import {motorList} from '../../words/motor-list';
import {heldBy, onMotors, type PlannedEsc, type Rule, type RuleQuestion} from './rule';

const other = (sense: RotationDirection): RotationDirection =>
  sense === 'clockwise' ? 'counter-clockwise' : 'clockwise';

/** Outputs that were seen turning, and would turn the wrong way with the planned rotation. */
function wrongWay({craft, escs, sightings}: RuleQuestion): number[] {
  const wanted = wantedDirections(craft);
  return escs.flatMap((esc) => {
    const seen = sightings.find((s) => s.output === esc.output);
    if (!seen || seen.rotationSetting === undefined || seen.rotationSetting > 1) return [];
    const planned = heldBy(esc, 'rotation');
    const will = planned === seen.rotationSetting ? seen.sense : other(seen.sense);
    return planned <= 1 && will !== wanted[seen.arm] ? [esc.output] : [];
  });
}

/** Pulses that the firmware of an ESC takes; undefined where the catalogue does not say. */
const takenPulses = ({releases}: RuleQuestion, {identity}: PlannedEsc): Release['pulses'] =>
  identity && releaseOf(releases ?? [], identity)?.pulses;

const pulsesText = (pulses: NonNullable<Release['pulses']>): string =>
  pulses.length ? `${pulses.map((p) => protocolName[p]).join(', ')} and DShot` : 'DShot alone';

export const signalRules: readonly Rule[] = [
  {
    id: 'rotation-sense',
    severity: 'refuse',
    keys: ['rotation'],
    remedy:
      'Plan their rotation the other way round. If motor wires were changed since, look again at the Spin station.',
    check: (q) => {
      const outputs = wrongWay(q);
      return outputs.length
        ? {
            outputs,
            meaning: `The Spin station saw ${motorList(outputs, q.craft.arms.length)} turn; with the planned rotation ${outputs.length > 1 ? 'they' : 'it'} would turn against what the flight controller's mixer expects. The craft flips at take-off.`,
          }
        : undefined;
    },
  },
  {
    id: 'props-turn-over',
    severity: 'warn',
    keys: ['rotation'],
    remedy:
      'Mount the propellers that turn the other way, see every motor turn on the Spin station, and do not fly before Sign-off says that both sides agree.',
    check: (q) => {
      const {craft, escs, held} = q;
      const changes = held?.props !== undefined && held.props !== craft.props;
      const isAlone = escs.every((esc) => heldBy(esc, 'rotation') === held?.rotation[esc.output]);
      if (!changes || !isAlone) return undefined;
      const seen = escs.filter(({output}) => q.sightings.some((s) => s.output === output));
      // Motors that turn the right way for it were seen: then the flight controller is what was wrong.
      if (seen.length === escs.length && !wrongWay(q).length) return undefined;
      return {
        meaning: `This turns the flight controller’s propeller direction from ${held.props} to ${craft.props} and leaves every ESC’s rotation as it is. Which way the motors turn is not known yet: with motors that turn as before the craft flips at take-off.`,
      };
    },
  },
  {
    id: 'own-mixer',
    severity: 'refuse',
    keys: [],
    remedy: 'Plan the mixer of this craft, or that of the airframe, on the Spin station under Mixer.',
    check: ({craft, held}) => {
      if (!steersByMotors(craft)) return undefined;
      const {arms} = craft.plan.controller;
      const rows = plannedMixer(craft.plan.settings) ?? held?.mixer ?? [];
      const mixer = mixerOf(craft.arms, wantedDirections(craft));
      const reversed = mixerDifferences(rows, {mixer, arms})?.find((d) => d.held * d.wanted < 0);
      return (
        reversed && {
          meaning: `The flight controller would use a mixer of its own. ${reversed.text} The craft flips at take-off.`,
        }
      );
    },
  },
  {
    id: 'protocol-heard',
    severity: 'refuse',
    keys: [],
    remedy: 'Plan a slower protocol on the Signal station.',
    check: (q) => {
      const {protocol, replies} = q.craft.plan.controller;
      return onMotors(
        q,
        ({hardware}) => {
          const chip = hardware && findChip(hardware.chip);
          return chip !== undefined && !hears(chip, protocol, replies);
        },
        ({hardware}) => {
          const {name, fastestReplyDshot: rate} = findChip(hardware!.chip)!;
          return replies
            ? `${protocolName[protocol]} with replies is faster than ${name} receives: replies look fine on the bench and fail in flight. It receives DShot${rate}.`
            : `${name} cannot receive ${protocolName[protocol]}: motors would not turn.`;
        },
      );
    },
  },
  {
    id: 'pulses-taken',
    severity: 'refuse',
    keys: [],
    remedy: 'Plan a protocol that it takes on the Signal station, or another firmware on the Firmware station.',
    check: (q) => {
      const {protocol} = q.craft.plan.controller;
      if (isDigital(protocol)) return undefined;
      return onMotors(
        q,
        (esc) => takenPulses(q, esc)?.includes(protocol) === false,
        (esc) =>
          `${esc.identity!.family} ${esc.identity!.version} takes ${pulsesText(takenPulses(q, esc)!)}, not ${protocolName[protocol]}: motors would not turn.`,
      );
    },
  },
  {
    id: 'replies-firmware',
    severity: 'warn',
    keys: ['replyExtras'],
    remedy:
      'Plan Meridian 4.1 or Cadence 2.0 or newer, or a reply module, on the Firmware station; or plan replies off.',
    check: (q) => {
      const {plan} = q.craft;
      if (!plan.controller.replies) return undefined;
      return onMotors(
        q,
        ({output, identity}) =>
          identity !== undefined &&
          !identity.features.includes('replies') &&
          plannedFirmware(plan, output).module === undefined,
        ({identity}) =>
          `${identity!.family} ${identity!.version} does not answer bidirectional DShot: motor-speed notches stay without speeds, and proving the replies will fail.`,
      );
    },
  },
  {
    id: 'poles-counted',
    severity: 'warn',
    keys: [],
    remedy: 'Plan the same pole count on the Signal station; count the magnets.',
    check: ({craft}) => {
      const {poles} = craft.plan.controller;
      return poles === craft.motor.poles
        ? undefined
        : {
            meaning: `The flight controller is planned with ${poles} poles, the motors have ${craft.motor.poles}: every notch sits at ${(craft.motor.poles / poles).toFixed(2)} × the motor's speed.`,
          };
    },
  },
  {
    id: 'wire-in-loop',
    severity: 'warn',
    keys: [],
    remedy: 'Plan a slower control loop or a faster protocol on the Signal station.',
    check: ({craft, processor}) => {
      const {protocol, replies} = craft.plan.controller;
      const budget = budgetOf(craft.plan.controller, {
        clockMhz: processor?.clockMhz ?? 216,
        outputs: craft.arms.length,
      });
      if (!budget.wireFits)
        return {
          meaning: `${protocolName[protocol]}${replies ? ' with replies' : ''} takes ${budget.wire.totalUs.toFixed(0)} µs${isDigital(protocol) ? ` (${bitUs(protocol).toFixed(2)} µs a bit)` : ' at full throttle'} and the loop leaves ${budget.periodUs.toFixed(0)} µs: ${replies ? 'replies' : 'commands'} are lost.`,
        };
      return processor !== undefined && budget.load > loadLimits.most
        ? {
            meaning: `The gyro task of this flight controller would be loaded to ${(budget.load * 100).toFixed(0)} %; ${maxLoadText}.`,
          }
        : undefined;
    },
  },
];
