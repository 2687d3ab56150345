/** What the Arming station proves: by gestures, by moves and sweeps, by a transmitter that went off. */
import type {FailSafe, Mounting, Receiver} from '../controller/arming-fields';
import {countOf, isSome, type ProofKind, type NewProof, type ProvenEsc} from '../proof/proof';
import {sticks, type FoundChannels} from './channels';
import {offUs} from './ends';
import type {FailSafeTrial} from './fail-safe-trial';
import type {FoundMounting} from './mounting';
import {angleBetween, matrixOf} from './rotation';
import type {StickEnds} from './sweep-watch';
import type {TransmitterBack} from './transmitter-back';

type ProofAbout = Pick<NewProof, 'at' | 'session' | 'cycles' | 'grounds'> & {
  readonly on: readonly ProvenEsc[];
};
export interface Verdict {
  readonly holds: boolean;
  readonly text: string;
  /** Frames of the receiver per second, where they were counted. */
  readonly frameHz?: number;
}

/** Motors have to stand within this after the last frame, ms (trade fact). */
const maxFailSafeMs = 1000;
/** A mounting as set and as measured agree within this, degrees, or within what the hand may be off, where that is more. */
const agreeDeg = 5;

/** A record, or undefined where nothing was counted or no craft was there. */
export function armingProof(
  kind: ProofKind,
  {holds, text, frameHz}: Verdict,
  {counted, ...about}: ProofAbout & {readonly counted: number},
): NewProof | undefined {
  const count = countOf(counted);
  const {on} = about;
  if (count === undefined || !isSome(on)) return undefined;
  return {...about, on, kind, holds, text, count, ...(frameHz !== undefined && {frameHz})};
}

export const mountingText = ({roll, pitch, yaw}: Mounting): string => {
  const parts = [
    ...(yaw ? [`turned by ${yaw < 0 ? yaw + 360 : yaw}° to the right`] : []),
    ...(pitch ? [`${Math.abs(pitch)}° nose ${pitch > 0 ? 'up' : 'down'}`] : []),
    ...(roll
      ? [Math.abs(roll) === 180 ? 'upside down' : `${Math.abs(roll)}° ${roll > 0 ? 'right' : 'left'} side down`]
      : []),
  ];
  return parts.length ? parts.join(', ') : 'straight ahead and upright';
};

/** Gestures against what the flight controller is set to. */
export function judgeMounting(found: FoundMounting, set: Mounting): Verdict & {readonly offDeg: number} {
  const offDeg = angleBetween(matrixOf(found.mounting), matrixOf(set));
  const holds = offDeg <= Math.max(agreeDeg, found.boundDeg);
  return {
    ...{offDeg, holds},
    text: holds
      ? `The board sits ${mountingText(set)}, as the poses show within ${found.boundDeg.toFixed(0)}°: measured ${(offDeg || found.offDeg).toFixed(0)}° off, the next right angle ${found.nextDeg.toFixed(0)}°.`
      : `The board sits ${mountingText(found.mounting)}, within ${found.boundDeg.toFixed(0)}°, and its configuration says ${mountingText(set)}: the craft would flip.`,
  };
}

/** Order, direction, ends and centre of the sticks against what the flight controller is set to. */
export function judgeReceiver(moves: FoundChannels, ends: readonly StickEnds[], set: Receiver): Verdict {
  const wrong = sticks.filter((stick) => moves.channel[stick] !== set[stick]);
  const off = ends.filter((e) => !e.advice.isRight);
  const text = [
    wrong.length
      ? `Set otherwise than it comes: ${wrong.map((s) => `${s} is channel ${moves.channel[s]}, set is ${set[s]}`).join('; ')}.`
      : `Four moves came on the channels set: ${sticks.map((s) => `${s} ${set[s]}`).join(', ')}.`,
    moves.reversed.length ? `The wrong way round: ${moves.reversed.join(', ')}.` : '',
    off.length
      ? `Ends or centre are off: ${off.map((e) => `${e.stick} ${e.low.toFixed(0)}–${e.high.toFixed(0)} µs`).join(', ')}.`
      : 'Ends reach 1000 and 2000 µs, the centre is within 2 µs of 1500.',
    tooLittle(ends, set),
  ];
  const holds = !wrong.length && !moves.reversed.length && !off.length && !tooLittle(ends, set);
  return {holds, text: text.filter((part) => part).join(' ')};
}

/** Dead band that the noisiest of the sticks asks for, µs. */
export const wantedDeadBand = (ends: readonly StickEnds[]): number => maxOf(ends, (e) => e.advice.deadBandUs);

/** Over the sticks that rest in the middle. */
const maxOf = (ends: readonly StickEnds[], of: (e: StickEnds) => number): number =>
  ends.reduce((most, e) => Math.max(most, e.stick === 'throttle' ? 0 : of(e)), 0);

const tooLittle = (ends: readonly StickEnds[], set: Receiver): string => {
  const trembles = Math.ceil(maxOf(ends, (e) => e.noiseUs));
  return trembles > Math.max(offUs, set.deadBandUs)
    ? `At rest the sticks jitter by ${trembles} µs and the dead band is ${set.deadBandUs} µs: the craft would drift.`
    : '';
};

/** Time of the last motor against the most that is allowed. */
/** @param back what happened when the transmitter was on again; before that nothing is said of it. */
export function judgeFailSafe({stoodMs, resolutionMs, watchedMs}: FailSafeTrial, back?: TransmitterBack): Verdict {
  const turning = stoodMs.flatMap((ms, m) => (ms === undefined ? [m + 1] : []));
  if (turning.length)
    return {
      holds: false,
      text: `${(watchedMs / 1000).toFixed(1)} s after the last frame ${turning.length === stoodMs.length ? 'every motor' : `motor ${turning.join(', ')}`} still turned; at most 1 s is allowed.`,
    };
  const last = Math.max(...stoodMs.map((ms) => ms!));
  const wrong = back && wrongAfter(back);
  const after =
    !back || wrong || back.isDisarmed === undefined ? '' : ' With the transmitter on again it was disarmed.';
  return {
    holds: last + resolutionMs <= maxFailSafeMs && !wrong,
    text: `All ${stoodMs.length} motors stopped within ${(last / 1000).toFixed(2)} s ± ${(resolutionMs / 1000).toFixed(2)} s of the last frame; at most 1 s is allowed.${wrong ? ` ${wrong}` : after}`,
  };
}

function wrongAfter({isDisarmed, turned}: TransmitterBack): string | undefined {
  if (turned.length)
    return `When the transmitter was on again, motor ${turned.map((m) => m + 1).join(', ')} turned by itself.`;
  return isDisarmed === false ? 'When the transmitter was on again, the craft was armed.' : undefined;
}

/** What the craft does without a signal, in one sentence. */
export function failSafeSentence({action, afterMs}: FailSafe): string {
  const wait = `Without a frame for ${(afterMs / 1000).toFixed(1)} s`;
  if (action === 'drop') return `${wait} the motors go off and the craft falls where it is.`;
  if (action === 'hold') return `${wait} nothing changes: the craft flies on as before until its battery is empty.`;
  return `${wait} the craft comes down slowly over five seconds with its motors turning.`;
}
