/** Rules of arming: switches, channels and fail-safe as planned. Where a plan is silent on them, the craft's own stay. */
import {sticks} from '../../arming/channels';
import {switchUseName, type Switch} from '../../controller/arming-fields';
import type {Rule} from './rule';

/** A range so wide holds both ends of any switch, µs. */
const widestSwitchUs = 800;
/** Without a signal the motors stand after so long, ms (trade fact). */
const longestFailSafeMs = 1000;

const overlap = (a: Switch, b: Switch) => a.channel === b.channel && a.fromUs < b.toUs && b.fromUs < a.toUs;

export const armingRules: readonly Rule[] = [
  {
    id: 'arm-switch',
    severity: 'refuse',
    keys: [],
    remedy: 'Plan a switch of its own for arming.',
    check: ({craft}) => {
      const {switches, receiver} = craft.plan.controller;
      const arm = switches?.filter((s) => s.use === 'arm');
      if (!arm) return undefined;
      if (!arm.length)
        return {meaning: 'No switch arms the craft: it arms by the sticks, and a hand that slips starts the motors.'};
      const stick = arm.flatMap((s) => sticks.filter((name) => receiver?.[name] === s.channel));
      return stick.length
        ? {meaning: `Arming lies on the ${stick.join(' and ')} stick: a hand that slips starts the motors.`}
        : undefined;
    },
  },
  {
    id: 'armed-at-power-up',
    severity: 'refuse',
    keys: [],
    remedy: 'Plan a range that holds one end of the switch only.',
    check: ({craft}) => {
      const wide = craft.plan.controller.switches?.find((s) => s.use === 'arm' && s.toUs - s.fromUs > widestSwitchUs);
      return (
        wide && {
          meaning: `Arming holds from ${wide.fromUs} to ${wide.toUs} µs of channel ${wide.channel}, both ends of a switch: the craft is armed as soon as it has power.`,
        }
      );
    },
  },
  {
    id: 'switch-empty',
    severity: 'refuse',
    keys: [],
    remedy: 'Plan a range whose end lies above its beginning.',
    check: ({craft}) => {
      const empty = craft.plan.controller.switches?.find((s) => s.fromUs >= s.toUs);
      return (
        empty && {
          meaning: `${switchUseName[empty.use]} runs from ${empty.fromUs} to ${empty.toUs} µs: no position of a switch is in it.`,
        }
      );
    },
  },
  {
    id: 'switches-overlap',
    severity: 'refuse',
    keys: [],
    remedy: 'Plan ranges or channels apart from each other.',
    check: ({craft}) => {
      const all = craft.plan.controller.switches ?? [];
      const pair = all.flatMap((a, i) => all.slice(i + 1).flatMap((b) => (overlap(a, b) ? [[a, b] as const] : [])))[0];
      return (
        pair && {
          meaning: `${switchUseName[pair[0].use]} and ${switchUseName[pair[1].use]} share a part of channel ${pair[0].channel}: one position does both.`,
        }
      );
    },
  },
  {
    id: 'level-needs-accelerometer',
    severity: 'warn',
    keys: [],
    remedy: 'Turn the accelerometer on, or remove the self-level switch.',
    check: ({craft}) => {
      const {switches, accelerometer} = craft.plan.controller;
      return accelerometer === false && switches?.some((s) => s.use === 'level')
        ? {meaning: 'Levelled flying has a switch, and the accelerometer is off: the switch does nothing.'}
        : undefined;
    },
  },
  {
    id: 'channels-apart',
    severity: 'refuse',
    keys: [],
    remedy: 'Plan a channel of its own for each stick.',
    check: ({craft}) => {
      const {receiver} = craft.plan.controller;
      if (!receiver) return undefined;
      const twice = sticks.filter((a) => sticks.some((b) => b !== a && receiver[b] === receiver[a]));
      return twice.length
        ? {meaning: `Channel ${receiver[twice[0]!]} is ${twice.join(' and ')} at once: one stick moves both.`}
        : undefined;
    },
  },
  {
    id: 'fail-safe-holds',
    severity: 'refuse',
    keys: [],
    remedy: 'Plan motors off.',
    check: ({craft}) =>
      craft.plan.controller.failSafe?.action === 'hold'
        ? {meaning: 'Without a signal the craft goes on as before: it flies away with its motors turning.'}
        : undefined,
  },
  {
    id: 'fail-safe-lands',
    severity: 'warn',
    keys: [],
    remedy: 'Plan motors off.',
    check: ({craft}) =>
      craft.plan.controller.failSafe?.action === 'land'
        ? {
            meaning:
              'Without a signal the motors turn on for seconds while the craft comes down; they have to stand within a second.',
          }
        : undefined,
  },
  {
    id: 'fail-safe-late',
    severity: 'warn',
    keys: [],
    remedy: `Plan at most ${longestFailSafeMs} ms.`,
    check: ({craft}) => {
      const {failSafe} = craft.plan.controller;
      return failSafe && failSafe.afterMs > longestFailSafeMs
        ? {
            meaning: `Without a signal nothing happens for ${failSafe.afterMs} ms; motors have to stand within a second.`,
          }
        : undefined;
    },
  },
];
