/** What a flight says is wrong, each with its numbers and bounds. A finding names the picture that shows it. */
import type {FlightLog} from '../flight/flight-log';
import type {AliasedLine} from './aliased-lines';
import type {CoastDown} from './coast-downs';
import {damageFindings} from './damage-findings';
import type {Finding} from './finding';
import type {Desync, ReplyLoss} from './reply-losses';
import {totalAmplitude} from './tracking/order-sums';
import type {HalfOrder} from './tracking/half-orders';
import type {MotorOrders} from './tracking/order-tracking';
import type {NoPoleVerdict, PoleVerdict} from './pole-count';
import type {Resonance} from './resonances';
import {upperMedian} from '../numbers/median';

interface Measured {
  readonly loggedPoles: number;
  readonly poles: PoleVerdict | NoPoleVerdict;
  readonly orders: readonly MotorOrders[];
  readonly halves: readonly (HalfOrder | undefined)[];
  readonly resonances: readonly Resonance[];
  readonly coast: readonly (CoastDown | undefined)[];
  readonly losses: readonly ReplyLoss[];
  readonly desyncs: readonly Desync[];
  readonly aliases: readonly AliasedLine[];
}

export const findingsOf = (log: FlightLog, m: Measured): Finding[] => [
  ...damageFindings(log),
  ...aliased(log, m),
  ...wrongPoles(m),
  ...unbalanced(m.orders),
  ...loose(m.halves),
  ...longCoasts(m.coast),
  ...m.resonances.map((r) => (r.isTone ? tone(r) : resonance(r))),
  ...m.losses.flatMap(replyLoss),
  ...lostSteps(m.desyncs),
];

/** Lines at these multiples, for at least this share of the flight; what else is beyond half the rate is noted beside maps. */
const mainOrders = 2;
const oftenAliased = 0.1;

function aliased({sampleRateHz}: FlightLog, {aliases}: Measured): Finding[] {
  const often = aliases.filter(({share}) => share > oftenAliased);
  if (!often.some(({order}) => order <= mainOrders)) return [];
  const lines = often.map(({order, share}) => `${order} × for ${(share * 100).toFixed(0)} %`).join(', ');
  const enough = 2.2 * Math.max(...often.map(({highestHz}) => highestHz));
  return [
    {
      ...{kind: 'aliased', evidence: 'order map'},
      text:
        `Lines at these multiples of motor speed lie beyond half of the log's rate (${(sampleRateHz / 2).toFixed(0)} Hz): ${lines} of the flight. ` +
        'They alias down and stand among the other lines; what seems to be there at those moments may not be.',
      next: `Log at ${(Math.ceil(enough / 500) * 500).toFixed(0)} Hz or more.`,
    },
  ];
}

function wrongPoles({poles, loggedPoles}: Measured): Finding[] {
  if (poles.kind !== 'found' || poles.poles === loggedPoles) return [];
  return [
    {
      kind: 'wrong-poles',
      evidence: 'order map',
      text:
        `Logged with ${loggedPoles} poles, but these motors have ${poles.poles}: their lines lie at ${poles.ratio.toFixed(2)} × ` +
        `the speed that ${loggedPoles} give, ${poles.marginDb.toFixed(1)} dB clearer than for any other count.`,
      next: `Count the magnets of one motor; with ${poles.poles} counted, plan ${poles.poles}. Every notch sits beside its noise until then.`,
    },
  ];
}

/** A motor shakes more than the others from here on, and by its bounds at least by the second. */
const strongShare = 1.8;
const surelyShare = 1.4;

function unbalanced(motors: readonly MotorOrders[]): Finding[] {
  const totals = motors.map((m) => m.orders.get(1)).map((o) => o && totalAmplitude(o));
  return totals.flatMap((own, motor): Finding[] => {
    const others = totals.flatMap((t, m) => (m === motor || !t ? [] : [t]));
    if (!own || others.length < 2) return [];
    // Of an even number the higher one: at least half of the others shake less.
    const usual = upperMedian(others.map((t) => t.amplitude));
    // The others may shake by as much as their bounds leave: where nothing of them stands out of the noise, by that.
    const most = upperMedian(others.map((t) => t.amplitude + t.bound));
    if (own.amplitude < strongShare * usual || own.amplitude - own.bound < surelyShare * most) return [];
    return [
      {
        ...{kind: 'unbalanced', motor, evidence: 'motor lines'},
        text:
          `Motor ${motor + 1} shakes at its own speed with ${figure(own)} deg/s, ` +
          (usual > most / 2
            ? `${(own.amplitude / usual).toFixed(1)} times as much as the others (${usual.toFixed(1)} deg/s).`
            : `more than ${(own.amplitude / most).toFixed(1)} times as much as the others (below ${most.toFixed(1)} deg/s).`),
        next: 'Look at its propeller for a nick, then turn the bell by hand beside a fixed edge: a bent one wobbles.',
      },
    ];
  });
}

/** Shake at half the speed, as a share of that at once: loose from the first on, and by its bounds at least the second. */
const looseShare = 0.3;
const surelyLoose = 0.15;

function loose(halves: readonly (HalfOrder | undefined)[]): Finding[] {
  return halves.flatMap((own, motor): Finding[] => {
    if (!own || own.amplitude < looseShare * own.atOnce || own.amplitude - own.bound < surelyLoose * own.atOnce)
      return [];
    return [
      {
        ...{kind: 'loose', motor, evidence: 'order map'},
        text:
          `Motor ${motor + 1} shakes at half its speed with ${figure(own)} deg/s, ${((own.amplitude / own.atOnce) * 100).toFixed(0)} % of what ` +
          'it makes at its speed.',
        next: 'A loose bell, a worn bearing or a loose propeller can do that: pull at the bell along its shaft, turn it slowly, then try its screws and its propeller nut.',
      },
    ];
  });
}

/** A motor falls later than the others from here on. */
const lateShare = 1.4;

function longCoasts(coast: readonly (CoastDown | undefined)[]): Finding[] {
  return coast.flatMap((own, motor): Finding[] => {
    const others = coast.flatMap((c, m) => (m === motor || !c ? [] : [c.seconds]));
    if (!own || own.cuts < 2 || others.length < 2) return [];
    const usual = upperMedian(others);
    if (own.seconds < lateShare * usual || own.seconds - own.spread < 1.15 * usual) return [];
    return [
      {
        ...{kind: 'long-coast', motor, evidence: 'time map'},
        text:
          `Motor ${motor + 1} takes ${ms(own.seconds)} ± ${ms(own.spread)} to fall after a cut, the others ${ms(usual)}, ` +
          `over ${own.cuts} cuts: the craft dips there.`,
        next: 'Compare the settings of its ESC with the others: most often active braking is off there.',
      },
    ];
  });
}

const resonance = (r: Resonance): Finding => ({
  ...{kind: 'resonance', axis: r.axis, hz: r.hz, evidence: 'throttle map'},
  text: `A resonance at ${r.hz.toFixed(0)} Hz, Q ${r.q.toFixed(r.q < 10 ? 1 : 0)}, stands ${r.prominenceDb.toFixed(0)} dB out of ${r.axis} ${staysWhere(r)}.`,
  next: 'Look for what is loose or long: a screw, an arm, the mount of the gyro or of a camera. A notch that follows motors does not reach it.',
});

const tone = (r: Resonance): Finding => ({
  ...{kind: 'electrical', axis: r.axis, evidence: 'throttle map'},
  text: `A tone at ${r.hz.toFixed(0)} Hz, sharper than any part of a frame rings, stands ${r.prominenceDb.toFixed(0)} dB out of ${r.axis} ${staysWhere(r)}.`,
  next: 'Look for what switches at that frequency: a regulator, a transmitter, a wire beside the gyro.',
});

function staysWhere({over, moments}: Resonance): string {
  if (!over) return `whatever the motors do (${moments} moments without a motor line near it)`;
  const [from, to] = over.range.map((v) => v.toFixed(0));
  return over.isThrottle
    ? `at every throttle from ${from} to ${to} % (the log has no motor speeds)`
    : `at every motor speed from ${from} to ${to} rev/s`;
}

/** Losses below are told by the reply proof on the bench, not by a flight: one in ten thousand. */
const minLoss = 1e-4;

function replyLoss({motor, share, interval, events, twitch}: ReplyLoss): Finding[] {
  if (share < minLoss) return [];
  const who = motor === undefined ? 'The motors together' : `Motor ${motor + 1}`;
  const [from, to] = interval.map((v) => (v * 100).toPrecision(2));
  const tied =
    twitch !== undefined && twitch > 2
      ? ` After a burst the gyro moves ${Math.sqrt(twitch).toFixed(1)} times as fast as its median.`
      : '';
  return [
    {
      kind: 'reply-loss',
      ...(motor === undefined ? {} : {motor}),
      evidence: 'time map',
      text: `${who} lost replies in ${events} ${events === 1 ? 'burst' : 'bursts'}, ${(share * 100).toPrecision(2)} % of the flight (95 %: ${from}–${to} %).${tied}`,
      next: 'Go through the loop budget on the Signal station; replies must not be lost.',
    },
  ];
}

function lostSteps(desyncs: readonly Desync[]): Finding[] {
  const motors = [...new Set(desyncs.map((d) => d.motor))];
  return motors.map((motor) => {
    const own = desyncs.filter((d) => d.motor === motor);
    const worst = own.reduce((a, b) => (b.left < a.left ? b : a));
    return {
      ...{kind: 'desync', motor, evidence: 'time map'},
      text:
        `Motor ${motor + 1} lost its step ${own.length === 1 ? 'once' : `${own.length} times`}, first at ${own[0]!.atS.toFixed(2)} s: its speed fell ` +
        `to ${(worst.left * 100).toFixed(0)} % within ${fallMs.toFixed(0)} ms while the others went on, without a command.`,
      next: 'Raise timing or demag compensation of its ESC one step, look at its three wires, and fly gently until then.',
    };
  });
}
const fallMs = 40;

const figure = ({amplitude, bound}: {amplitude: number; bound: number}) =>
  `${amplitude.toFixed(1)} ± ${bound.toFixed(1)}`;
const ms = (s: number) => `${(s * 1000).toFixed(0)} ms`;
