/** What a captured wire says about its signal: rules over its figures, each with its evidence and one thing to do next. */
import type {CommandRhythm} from '../capture/command-rhythm';
import type {DecodedWire} from '../capture/decode-wire';
import {lossOf} from '../capture/figures';
import {bitUs, protocolName, isDigital} from '../dshot/protocol';
import type {SignalFinding} from './signal-findings';

/** A bit rate this far from its protocol's is off, %: receivers take more, and their own clocks take part of it. */
const mostRateError = 3;
/** Pause before a reply that controllers wait for, µs (open trade protocol: about 30). */
const turnaround = {least: 20, most: 45};
/** Jitter of leading edges, share of a bit. */
const mostJitter = 0.06;

export function captureFindings(wire: DecodedWire, rhythm: CommandRhythm | undefined): readonly SignalFinding[] {
  const found = [
    rateOff(wire),
    pauseOff(wire),
    jitter(wire),
    badCommands(wire),
    lostReplies(wire),
    gaps(rhythm),
    glitches(wire),
  ];
  const out = found.filter((f) => f !== undefined);
  if (out.length) return out;
  return wire.commands.length ? [{id: 'sound', tag: 'ok', word: 'sound', text: soundText(wire)}] : [];
}

const soundText = ({commands, replies, bidirectional}: DecodedWire): string =>
  bidirectional
    ? `${commands.length.toLocaleString('en')} commands and ${replies.length.toLocaleString('en')} replies, every one of them right.`
    : `${commands.length.toLocaleString('en')} commands, every one of them right.`;

function rateOff({rate}: DecodedWire): SignalFinding | undefined {
  if (!rate || Math.abs(rate.errorPercent) <= mostRateError) return undefined;
  return {
    ...{id: 'bit-rate', tag: 'diff', word: 'bit rate off'},
    text: `Bits take ${(rate.bitS * 1e6).toFixed(3)} µs, ${rate.errorPercent > 0 ? '+' : ''}${rate.errorPercent.toFixed(1)} % from the rate of ${protocolName[rate.protocol]} (${bitUs(rate.protocol).toFixed(3)} µs).`,
    action: {text: 'Set the clock of the controller as rated', station: 'arming'},
  };
}

function pauseOff({turnaroundUs}: DecodedWire): SignalFinding | undefined {
  if (turnaroundUs === undefined || (turnaroundUs >= turnaround.least && turnaroundUs <= turnaround.most))
    return undefined;
  return {
    ...{id: 'turnaround', tag: 'diff', word: 'wrong turnaround'},
    text: `Replies begin ${turnaroundUs.toFixed(1)} µs after their command; controllers listen at about 30 µs.`,
    action: {text: 'Plan another firmware for this ESC', station: 'firmware'},
  };
}

function jitter({jitterNs, rate, protocol}: DecodedWire): SignalFinding | undefined {
  if (jitterNs === undefined || !rate || protocol === 'silent' || protocol === 'unknown' || !isDigital(protocol))
    return undefined;
  const share = jitterNs / (bitUs(protocol) * 1000);
  if (share <= mostJitter) return undefined;
  return {
    ...{id: 'jitter', tag: 'wait', word: 'jitter'},
    text: `Edges scatter by ${jitterNs.toFixed(0)} ns, ${(100 * share).toFixed(1)} % of a bit: slow edges, or an analyser that samples too slowly.`,
    action: {text: 'Capture with at least ten samples a bit', bench: true},
  };
}

function badCommands({commands}: DecodedWire): SignalFinding | undefined {
  const bad = commands.filter((c) => !c.ok).length;
  if (!bad) return undefined;
  return {
    ...{id: 'commands', tag: 'diff', word: 'bad commands'},
    text: `${bad.toLocaleString('en')} of ${commands.length.toLocaleString('en')} commands do not read or do not check: what the controller sends is disturbed on its way.`,
    action: {text: 'Look at the signal wire and its ground', bench: true},
  };
}

function lostReplies(wire: DecodedWire): SignalFinding | undefined {
  if (!wire.bidirectional) return undefined;
  const {bad, missing} = lossOf(wire);
  const due = wire.replies.length;
  if (bad + missing === 0) return undefined;
  if (missing === due)
    return {
      ...{id: 'no-replies', tag: 'diff', word: 'no reply at all'},
      text: `None of ${due.toLocaleString('en')} commands was answered: no power, firmware without replies, or a protocol that the ESC does not hear.`,
      action: {text: 'Look at its firmware and power', station: 'survey'},
    };
  const isSilent = missing > bad;
  return {
    ...{id: isSilent ? 'missing' : 'bad-replies', tag: 'diff', word: isSilent ? 'replies missing' : 'bad replies'},
    text: `${missing.toLocaleString('en')} missing and ${bad.toLocaleString('en')} bad of ${due.toLocaleString('en')} replies. ${isSilent ? 'An ESC that does not answer was busy, or did not hear.' : 'Answers came and were spoilt: noise on the wire.'}`,
    action: isSilent
      ? {text: 'Look at the budget of the loop', bench: true}
      : {text: 'Look at the signal wire and its ground', bench: true},
  };
}

function gaps(rhythm: CommandRhythm | undefined): SignalFinding | undefined {
  if (!rhythm?.gapCount) return undefined;
  return {
    ...{id: 'gaps', tag: 'wait', word: 'gaps'},
    text: `${rhythm.gapCount.toLocaleString('en')} times a loop of ${(1e6 / rhythm.loopHz).toFixed(0)} µs came late or not, at longest ${rhythm.longestUs.toFixed(0)} µs: the processor was busy otherwise.`,
    action: {text: 'Look at the load of the loop', station: 'arming'},
  };
}

function glitches({glitches: count}: DecodedWire): SignalFinding | undefined {
  if (!count) return undefined;
  return {
    ...{id: 'glitches', tag: 'wait', word: 'glitches'},
    text: `${count.toLocaleString('en')} pulses shorter than 200 ns: no bits, and left out; noise that the wire picks up.`,
    action: {text: 'Lead signal and ground together, away from motor wires', bench: true},
  };
}
