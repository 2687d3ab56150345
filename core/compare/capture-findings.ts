/** What a captured wire says about its signal: rules over its figures, each with its evidence and one thing to do next. */
import type {CommandRhythm} from '../capture/decode/command-rhythm';
import type {DecodedWire} from '../capture/decode/decode-wire';
import {lossOf} from '../capture/ask/figures';
import {bitUs, protocolName, isDigital} from '../dshot/protocol';
import {maxRateOff, pauseUs} from '../dshot/wire-time';
import type {SignalFinding} from './signal-findings';
import {grouped} from '../words/grouped';

/** Jitter of leading edges, share of a bit. */
const maxJitter = 0.06;

/** Samples that a bit should have (common practice). */
const samplesPerBit = 10;

export function captureFindings(wire: DecodedWire, rhythm: CommandRhythm | undefined): readonly SignalFinding[] {
  const coarse = sampledTooSlowly(wire);
  const found = [
    coarse,
    rateOff(wire),
    pauseOff(wire),
    coarse ? undefined : jitter(wire),
    badCommands(wire, coarse),
    lostReplies(wire, coarse),
    gaps(rhythm),
    glitches(wire),
  ];
  const out = found.filter((f) => f !== undefined);
  if (out.length) return out;
  return wire.commands.length ? [{id: 'sound', tag: 'ok', word: 'sound', text: soundText(wire)}] : [];
}

const soundText = ({commands, replies, bidirectional}: DecodedWire): string =>
  bidirectional
    ? `${grouped(commands.length)} commands and ${grouped(replies.length)} replies, every one of them right.`
    : `${grouped(commands.length)} commands, every one of them right.`;

function rateOff({rate}: DecodedWire): SignalFinding | undefined {
  if (!rate || Math.abs(rate.errorPercent) <= 100 * maxRateOff) return undefined;
  return {
    ...{id: 'bit-rate', tag: 'diff', word: 'bit rate off'},
    text: `Bits take ${(rate.bitS * 1e6).toFixed(3)} µs, ${rate.errorPercent > 0 ? '+' : ''}${rate.errorPercent.toFixed(1)} % from the rate of ${protocolName[rate.protocol]} (${bitUs(rate.protocol).toFixed(3)} µs).`,
    action: {text: 'Set the clock of the controller as rated', station: 'arming'},
  };
}

function pauseOff({turnaroundUs}: DecodedWire): SignalFinding | undefined {
  if (turnaroundUs === undefined || (turnaroundUs >= pauseUs.least && turnaroundUs <= pauseUs.most)) return undefined;
  return {
    ...{id: 'turnaround', tag: 'diff', word: 'wrong turnaround'},
    text: `Replies begin ${turnaroundUs.toFixed(1)} µs after their command; controllers wait for ${pauseUs.least} to ${pauseUs.most} µs.`,
    action: {text: 'Plan another firmware for this ESC', station: 'firmware'},
  };
}

/** What does not read is laid to the analyser first, where it took too few samples of a bit. */
function sampledTooSlowly(wire: DecodedWire): SignalFinding | undefined {
  const {sampleS, rate, protocol, commands} = wire;
  if (sampleS === undefined || (protocol !== 'unknown' && !rate)) return undefined;
  // A wire that reads as nothing may carry the fastest.
  const bitS = rate?.bitS ?? bitUs('dshot600') * 1e-6;
  const isWrong = protocol === 'unknown' || commands.some((c) => !c.ok) || lossOf(wire).bad > 0 || jitter(wire);
  if (bitS >= samplesPerBit * sampleS || !isWrong) return undefined;
  const bits = rate ? protocolName[rate.protocol] : 'DShot600, the fastest,';
  return {
    ...{id: 'sampling', tag: 'wait', word: 'sampled too slowly'},
    text: `The analyser took a sample every ${(sampleS * 1e6).toFixed(2)} µs; a bit of ${bits} lasts ${(bitS * 1e6).toFixed(2)} µs. What does not read may be read right from a faster capture: this one says nothing about the wire.`,
    action: captureFaster,
  };
}

const captureFaster = {text: `Capture with at least ${samplesPerBit} samples a bit`, bench: true} as const;

function jitter({jitterNs, rate, protocol}: DecodedWire): SignalFinding | undefined {
  if (jitterNs === undefined || !rate || protocol === 'silent' || protocol === 'unknown' || !isDigital(protocol))
    return undefined;
  const share = jitterNs / (bitUs(protocol) * 1000);
  if (share <= maxJitter) return undefined;
  return {
    ...{id: 'jitter', tag: 'wait', word: 'jitter'},
    text: `Edges scatter by ${jitterNs.toFixed(0)} ns, ${(100 * share).toFixed(1)} % of a bit: slow edges, or an analyser that samples too slowly.`,
    action: captureFaster,
  };
}

function badCommands({commands}: DecodedWire, coarse: SignalFinding | undefined): SignalFinding | undefined {
  const bad = commands.filter((c) => !c.ok).length;
  if (!bad) return undefined;
  const text = `${grouped(bad)} of ${grouped(commands.length)} commands do not read or do not check`;
  const finding = {id: 'commands', tag: 'diff', word: 'bad commands'} as const;
  if (coarse) return {...finding, tag: 'wait', text: `${text}.`, action: captureFaster};
  return {
    ...finding,
    text: `${text}: what the controller sends is disturbed on its way.`,
    action: {text: 'Look at the signal wire and its ground', bench: true},
  };
}

function lostReplies(wire: DecodedWire, coarse: SignalFinding | undefined): SignalFinding | undefined {
  if (!wire.bidirectional) return undefined;
  const {bad, missing} = lossOf(wire);
  const due = wire.replies.length;
  if (bad + missing === 0) return undefined;
  if (missing === due)
    return {
      ...{id: 'no-replies', tag: 'diff', word: 'no reply at all'},
      text: `None of ${grouped(due)} commands was answered: no power, firmware without replies, or a protocol that the ESC does not receive.`,
      action: {text: 'Look at its firmware and power', station: 'survey'},
    };
  const isSilent = missing > bad;
  const count = `${grouped(missing)} missing and ${grouped(bad)} bad of ${grouped(due)} replies.`;
  if (coarse && !isSilent)
    return {id: 'bad-replies', tag: 'wait', word: 'bad replies', text: count, action: captureFaster};
  return {
    ...{id: isSilent ? 'missing' : 'bad-replies', tag: 'diff', word: isSilent ? 'replies missing' : 'bad replies'},
    text: `${count} ${isSilent ? 'An ESC that does not answer was busy, or did not receive the command.' : 'Replies arrived corrupted: noise on the wire.'}`,
    action: isSilent
      ? {text: 'Look at the budget of the loop', bench: true}
      : {text: 'Look at the signal wire and its ground', bench: true},
  };
}

function gaps(rhythm: CommandRhythm | undefined): SignalFinding | undefined {
  if (!rhythm?.gapCount) return undefined;
  return {
    ...{id: 'gaps', tag: 'wait', word: 'gaps'},
    text: `${grouped(rhythm.gapCount)} times a loop of ${(1e6 / rhythm.loopHz).toFixed(0)} µs came late or not, at longest ${rhythm.longestUs.toFixed(0)} µs: the processor was busy otherwise.`,
    action: {text: 'Look at the load of the loop', station: 'arming'},
  };
}

function glitches({glitches: count}: DecodedWire): SignalFinding | undefined {
  if (!count) return undefined;
  return {
    ...{id: 'glitches', tag: 'wait', word: 'glitches'},
    text: `${grouped(count)} pulses shorter than 200 ns: no bits, and ignored. Noise that the wire picks up.`,
    action: {text: 'Lead signal and ground together, away from motor wires', bench: true},
  };
}
