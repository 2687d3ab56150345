/** What a capture of wires says: `bidex capture`. */
import {decodeWire, type DecodedWire} from '@core/capture/decode/decode-wire';
import {lossOf, meaningOf, nominalRate, speedOf} from '@core/capture/ask/figures';
import {readerFor} from '@core/capture/read/read-capture';
import type {CaptureReader} from '@core/capture/read/capture';
import {fail, logFile, outcome, polesOf, type Answer, type Run} from './command';
import {Listed} from './print-json';

export const run: Run = async ({file, options}) =>
  outcome(await describeCapture(logFile(file).pieces, options.get('--poles')));

export async function describeCapture(
  pieces: AsyncIterable<Uint8Array>,
  polesText: string | undefined,
): Promise<Answer> {
  const poles = polesOf(polesText);
  if (polesText !== undefined && poles === undefined) return fail('poles', '--poles is an even number from 2 to 60.');
  let reader: CaptureReader | undefined;
  for await (const piece of pieces) {
    reader ??= readerFor(piece);
    reader.push(piece);
  }
  const capture = (reader ?? readerFor(new Uint8Array(0))).end();
  // Each wire is decoded when it is printed: its frames are not held beside those of the others.
  const wires = new Listed(capture.wires, (wire) => wireReport(decodeWire(wire, capture), poles));
  const {faults, faultCount} = capture;
  return {ok: wires.length > 0, value: {wires, faults, ...(faultCount > faults.length && {faultCount})}};
}

function wireReport(wire: DecodedWire, poles: number | undefined) {
  const loss = lossOf(wire);
  return {
    ...{name: wire.name, protocol: wire.protocol, bitRate: nominalRate(wire) ?? null},
    ...{inverted: wire.inverted, bidirectional: wire.bidirectional},
    commands: new Listed(wire.commands, ({t, value, telemetry, ok}) => ({t, value, telemetry, ok}), true),
    replies: new Listed(wire.replies, (reply, i) => replyReport(reply, meaningOf(wire, i), poles), true),
    glitches: wire.glitches,
    replyLossPercent: loss.lossPercent ?? null,
    replyLossOfSeenPercent: loss.lossOfSeenPercent ?? null,
    bitRateErrorPercent: wire.rate?.errorPercent ?? null,
    jitterNs: wire.jitterNs ?? null,
    turnaroundUs: wire.turnaroundUs ?? null,
  };
}

/** One object, made without another: there may be a million of them. */
function replyReport(
  {t, command, status, why}: DecodedWire['replies'][number],
  meaning: ReturnType<typeof meaningOf>,
  poles: number | undefined,
) {
  const speed = speedOf(meaning, poles);
  return {
    t,
    command,
    periodUs: speed?.periodUs ?? null,
    erpm: speed?.erpm ?? null,
    rpm: speed?.rpm ?? null,
    status,
    why,
    extended: meaning && meaning.kind !== 'speed' ? meaning : undefined,
  };
}
