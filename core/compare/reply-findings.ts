/** Why replies are lost: rules over the pattern of a stress run, each with its evidence and one thing to do next. */
import type {Found, FoundEsc} from '../bench/found';
import {poweredVolts} from '../bench/battery';
import {asRunning, type ControllerPlan} from '../controller/plan';
import {hears, judgePair, maxLoadText, type SignalPlace} from '../controller/signal-pair';
import {capital} from '../words/capital';
import {motorList} from '../words/motor-list';
import {loadLimits} from '../dshot/loop-budget';
import {isDigital, protocolName} from '../dshot/protocol';
import {findChip} from '../firmware/chips';
import {
  aloneAndTogether,
  shareOf,
  sumOf,
  type LossBin,
  type MotorQuality,
  type ReplyQuality,
} from '../replies/reply-quality';
import {lowerBound, upperBound} from '../replies/binomial-bound';
import {planBest, type NextAction, type SignalFinding} from './signal-findings';
import {grouped} from '../words/grouped';
import {percent} from '../words/percent';

interface ReplyQuestion {
  readonly quality: ReplyQuality;
  /** The craft as it was found: what was measured ran on this. */
  readonly found: Found;
  readonly plan: ControllerPlan;
  readonly place: SignalPlace;
  /** Magnets counted on a motor. */
  readonly countedPoles: number;
  /** Voltage of the pack now, V. */
  readonly volts: number | undefined;
}

/** From this share on nothing comes through. */
const allLost = 0.9;
/** A motor stands out when the others together lose less than this part of its share. */
const others = 0.2;
/** Loss rises where the upper half loses at least so many times what the lower half loses. */
const rises = 2.5;
/** Throttle and speed rise together on a bench: speed is named only where it tells so many times more. */
const clearer = 1.5;
/** All together disturb each other where they lose at least so many times what each loses alone. */
const moreTogether = 1.8;
/** Losses that are needed before a pattern is more than chance. */
const minLost = 20;

/** What can be said before anything was measured. */
export const beforeMeasuring = (q: Omit<ReplyQuestion, 'quality'>): readonly SignalFinding[] =>
  q.found.controller && !q.found.controller.config.replies ? [repliesOff(q)] : [];

export function replyFindings(q: ReplyQuestion): readonly SignalFinding[] {
  const {quality} = q;
  const lossy = quality.motors.flatMap((m, i) => (m.lost > 0 ? [i] : []));
  const none = quality.motors.every((m) => m.asked === 0);
  if (none) return [repliesOff(q)];
  const implausible = implausibleOf(q);
  if (!lossy.length && !implausible) return [];
  if ((q.volts ?? 0) <= poweredVolts) return [noBattery(q)];
  const silent = silentFindings(q);
  if (silent.length) return silent;
  const causes = [exchangeTooLong(q), overloaded(q), oneMotor(q, lossy) ?? risesWithAll(q) ?? risesWithWork(q)].filter(
    (f) => f !== undefined,
  );
  const found = causes.length ? causes : [evenly(q, lossy)];
  return [...found, ...(implausible ? [implausible] : [])];
}

function repliesOff({plan, place, countedPoles}: Omit<ReplyQuestion, 'quality'>): SignalFinding {
  const action: NextAction | undefined = plan.replies
    ? {text: 'Carry out the work order', bench: true}
    : planBest(plan, place, countedPoles);
  return {
    ...{id: 'replies-off', tag: 'diff', word: 'none requested', action},
    text: 'The flight controller requests no replies: they are off in it, or its protocol has none.',
  };
}

const noBattery = ({quality, volts}: ReplyQuestion): SignalFinding => ({
  ...{id: 'no-battery', tag: 'diff', word: 'no battery'},
  text: `The pack shows ${(volts ?? 0).toFixed(1)} V: USB does not power ESCs, and one without power does not answer. ${lossText(quality)}`,
  action: {text: 'Connect the battery, then measure again', bench: true},
});

/** Motors of which nothing comes: a protocol that the chip does not hear, no firmware for it, or no wire. */
function silentFindings(q: ReplyQuestion): SignalFinding[] {
  const {motors} = q.quality;
  const silent = motors.flatMap((m, i) => ((shareOf(m) ?? 0) >= allLost ? [i] : []));
  if (!silent.length) return [];
  const name = motorList(silent, motors.length);
  const lost = `${capital(name)} lost ${percent(worstShare(silent.map((i) => motors[i]!)))} of what was asked`;
  const ofEscs = deafOrOld(q, silent, lost);
  if (ofEscs) return [ofEscs];
  if (silent.length === motors.length)
    return [
      {
        ...{id: 'all-silent', tag: 'diff', word: 'all silent'},
        text: `${lost}, with power, firmware that replies and a protocol that the ESC receives: the ESCs may not have seen the replies turned on since they started.`,
        action: {text: 'Take the battery off and on, then measure again', bench: true},
      },
    ];
  return [
    {
      ...{id: 'one-silent', tag: 'diff', word: silent.length > 1 ? 'some silent' : 'one silent'},
      text: `${lost}; the others answer with the same firmware and protocol.`,
      action: {text: `Look at the signal wire of ${name}`, bench: true},
    },
  ];
}

/** What of the silent ESCs themselves cannot answer. */
function deafOrOld(
  {found, plan, place, countedPoles}: ReplyQuestion,
  silent: readonly number[],
  lost: string,
): SignalFinding | undefined {
  const protocol = found.controller?.config.protocol;
  const escs = silent.flatMap((o) => found.escs.find((e) => e.output === o) ?? []);
  for (const esc of escs) {
    const chip = findChip(esc.boot.chip);
    if (protocol && chip && isDigital(protocol) && !hears(chip, protocol, true))
      return {
        ...{id: 'too-fast-for-the-esc', tag: 'diff', word: 'too fast for the ESC'},
        text: `${lost}: ${chip.name} answers DShot${chip.fastestReplyDshot} at the most, and ${protocolName[protocol]} runs.`,
        action: planBest(plan, place, countedPoles) ?? {text: 'Carry out the work order', bench: true},
      };
  }
  const old = escs.find((e) => !answers(e));
  return (
    old && {
      ...{id: 'no-reply-firmware', tag: 'diff', word: 'firmware'},
      text: `${lost}: ${versionOf(old)} does not answer bidirectional DShot.`,
      action: {text: 'Plan firmware that replies', station: 'firmware'},
    }
  );
}

function exchangeTooLong({found, plan, place, countedPoles, quality}: ReplyQuestion): SignalFinding | undefined {
  const config = found.controller?.config;
  const running = config && asRunning(config);
  if (!running) return undefined;
  const {budget, slackUs} = judgePair(running, running, {...place, chip: undefined});
  if (budget.wireFits) return undefined;
  return {
    ...{id: 'wire-too-slow', tag: 'diff', word: 'wire too slow'},
    text: `Command and reply take ${budget.wire.totalUs.toFixed(0)} µs and the loop ${budget.periodUs.toFixed(0)}: ${(-slackUs).toFixed(0)} µs too long. ${lossText(quality)}`,
    action: planBest(plan, place, countedPoles) ?? {text: 'Carry out the work order', bench: true},
  };
}

function overloaded({quality, plan, place, countedPoles}: ReplyQuestion): SignalFinding | undefined {
  if (quality.load <= loadLimits.most) return undefined;
  return {
    ...{id: 'overloaded', tag: 'diff', word: 'loop overloaded'},
    text: `The gyro task took ${percent(quality.load)} of the loop while this ran; ${maxLoadText}. ${lossText(quality)}`,
    action: planBest(plan, place, countedPoles) ?? {text: 'Plan a slower loop or fewer filters', station: 'arming'},
  };
}

/** One motor alone, whose ESC is set otherwise than its siblings, or whose wire is not sound. */
function oneMotor({quality, found}: ReplyQuestion, lossy: readonly number[]): SignalFinding | undefined {
  const {motors} = quality;
  const worst = lossy.reduce(
    (a, b) => ((shareOf(motors[b]!) ?? 0) > (shareOf(motors[a]!) ?? 0) ? b : a),
    lossy[0] ?? 0,
  );
  const own = shareOf(motors[worst]!) ?? 0;
  const rest = shareOf(sumOf(motors.filter((_, i) => i !== worst))) ?? 0;
  if (motors.length < 2 || motors[worst]!.lost < minLost || rest > others * own) return undefined;
  const name = motorList([worst], motors.length);
  const esc = found.escs.find((e) => e.output === worst);
  const sibling = found.escs.find((e) => e.output !== worst);
  const evidence = `${capital(name)} lost ${percent(own)}, the others ${percent(rest)}`;
  if (esc && sibling && versionOf(esc) !== versionOf(sibling))
    return {
      ...{id: 'one-motor-firmware', tag: 'diff', word: 'one motor'},
      text: `${evidence}; it runs ${versionOf(esc)}, its siblings ${versionOf(sibling)}.`,
      action: {text: 'Plan one firmware for all', station: 'firmware'},
    };
  const more = halves(motors[worst]!.overThrottle);
  return {
    ...{id: 'one-motor', tag: 'diff', word: 'one motor'},
    text: `${evidence}, with the same firmware${more ? `; ${more.text}, as a wire does that shakes or lies beside its motor's` : ''}.`,
    action: {text: `Look at the signal wire of ${name}: solder, plug, way past the motor wires`, bench: true},
  };
}

/** Motors that lose little alone, and much at the same throttle when all turn: what they share disturbs. */
function risesWithAll({quality}: ReplyQuestion): SignalFinding | undefined {
  const both = aloneAndTogether(quality);
  if (!both) return undefined;
  const {alone, together, upTo} = both;
  const [a, b] = [shareOf(alone) ?? 0, shareOf(together) ?? 0];
  // Beyond chance: with 95 % certainty each, the one loses more than the other at the least.
  const isMore = lowerBound(together.lost, together.asked) > upperBound(alone.lost, alone.asked);
  if (together.lost < minLost || !isMore || b < moreTogether * a) return undefined;
  return {
    ...{id: 'rises-with-all', tag: 'diff', word: 'rises with all motors'},
    text: `At up to ${percent(upTo)} throttle each motor alone lost ${percent(a)} (${grouped(alone.lost)} of ${grouped(alone.asked)}), and all together ${percent(b)} (${grouped(together.lost)} of ${grouped(together.asked)}): they disturb each other through the supply that they share.`,
    action: {text: 'Add a capacitor at the pack, look at its plug and the ground wires', bench: true},
  };
}

/** All motors, and the more the harder they work, or the faster they turn where that tells it clearly better. */
function risesWithWork({quality: {motors, mostRpm}}: ReplyQuestion): SignalFinding | undefined {
  const over = (of: (m: MotorQuality) => readonly LossBin[]) =>
    Array.from({length: 10}, (_, i) => sumOf(motors.map((m) => of(m)[i] ?? {asked: 0, lost: 0})));
  const throttle = halves(over((m) => m.overThrottle));
  const speed = halves(
    over((m) => m.overSpeed),
    {what: 'speed', end: (bins) => `${grouped((bins / 10) * mostRpm)} rpm`},
  );
  if (speed && speed.times > clearer * (throttle?.times ?? 0))
    return {
      ...{id: 'rises-with-speed', tag: 'diff', word: 'rises with speed'},
      text: `All motors lose replies, and ${speed.text}: the ESC is busy commutating, or its motor's switching reaches the wire.`,
      action: {text: 'Plan newer firmware for the ESCs', station: 'firmware'},
    };
  return (
    throttle && {
      ...{id: 'rises-with-throttle', tag: 'diff', word: 'rises with throttle'},
      text: `All motors lose replies, and ${throttle.text}: what the motors draw disturbs the wires.`,
      action: {
        text: 'Lead signal wires with their ground, away from motor wires; add a capacitor at the pack',
        bench: true,
      },
    }
  );
}

function evenly({quality}: ReplyQuestion, lossy: readonly number[]): SignalFinding {
  const kinds = quality.motors.reduce(
    (all, m) => ({
      spoilt: all.spoilt + (m.lostAs ? m.lostAs.code + m.lostAs.checksum : 0),
      missing: all.missing + (m.lostAs?.missing ?? 0),
    }),
    {spoilt: 0, missing: 0},
  );
  const isSpoilt = kinds.spoilt > kinds.missing;
  const name = motorList(lossy, quality.motors.length);
  return {
    ...{id: isSpoilt ? 'spoilt' : 'unclear', tag: 'diff', word: isSpoilt ? 'corrupted bits' : 'no pattern'},
    text: `${lossText(quality)} ${capital(name)}; they depend on neither load nor throttle.${isSpoilt ? ' The checksums of what arrived were wrong: noise on the wires, or a pause or bit rate of the ESC that is off.' : ''}`,
    action: {text: 'Look at the wire itself: record it, and open the file under Captures', bench: true},
  };
}

function implausibleOf({quality}: ReplyQuestion): SignalFinding | undefined {
  const odd = quality.motors.flatMap((m, i) => (m.implausible > 0 ? [i] : []));
  if (!odd.length) return undefined;
  const told = odd.reduce((n, i) => n + quality.motors[i]!.implausible, 0);
  const isSpoilt = quality.motors.some((m) => m.lost > 0);
  return {
    ...{id: 'implausible', tag: isSpoilt ? 'wait' : 'diff', word: 'impossible speeds'},
    text: `${capital(motorList(odd, quality.motors.length))} reported ${told} speed${told > 1 ? 's' : ''} that no motor can reach. ${isSpoilt ? 'One of sixteen corrupted replies has a right checksum by chance: they go with the losses.' : 'Nothing was lost, so the number of poles or the firmware is probably wrong.'}`,
    ...(isSpoilt ? {} : {action: {text: 'Check the poles', station: 'craft'} as const}),
  };
}

const overThrottle = {what: 'throttle', end: (bins: number) => `${bins * 10} %`};

/** How much more the upper half of the bins that were visited loses than the lower one. */
function halves(
  bins: readonly LossBin[],
  {what, end}: {readonly what: string; readonly end: (bins: number) => string} = overThrottle,
): {readonly text: string; readonly times: number} | undefined {
  const visited = bins.map((bin, i) => ({...bin, i})).filter((b) => b.asked > 0);
  if (visited.length < 2) return undefined;
  const half = visited.length / 2;
  const [low, high] = [sumOf(visited.slice(0, Math.floor(half))), sumOf(visited.slice(Math.ceil(half)))];
  const [a, b] = [shareOf(low) ?? 0, shareOf(high) ?? 0];
  const times = b / Math.max(a, 1 / Math.max(1, low.asked));
  if (high.lost < minLost || times < rises) return undefined;
  const top = end(visited.at(-1)!.i + 1);
  return {times, text: `it rises with ${what}: ${percent(a)} below, ${percent(b)} up to ${top}`};
}

const worstShare = (motors: readonly MotorQuality[]): number => Math.max(...motors.map((m) => shareOf(m) ?? 0));
const answers = ({identity, module}: FoundEsc): boolean =>
  [...(identity?.features ?? []), ...(module?.features ?? [])].includes('replies');
const versionOf = ({identity}: FoundEsc): string =>
  identity ? `${identity.family} ${identity.version}` : 'foreign firmware';
const lossText = ({motors}: ReplyQuality): string => `Lost: ${percent(shareOf(sumOf(motors)) ?? 0)} of all.`;
