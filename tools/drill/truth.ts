/** What each kind of proof says of a bench, read from the simulator itself: nothing that judges is asked. Equal texts are equal truths. */
import {crc32} from 'node:zlib';
import {canonicalJson} from '@core/canonical-json';
import type {ProofKind} from '@core/proof/proof';
import {parameterGroups} from '@core/settings/definitions';
import {decodeSettings} from '@core/settings/page';
import type {SimulatedBench} from '@simulator/hardware/bench';

/** What is taken off the accelerometer. */
const offsets = ['x', 'y', 'z'].map((axis) => `level.offset_${axis}`);

/** Groups of settings that say nothing of how a motor moves. */
const still = ['Sounds', 'Replies', 'Helicopter'];
const stillKeys = new Set(
  parameterGroups.flatMap((g) => (still.includes(g.name) ? g.parameters.map((p) => p.key) : [])),
);

/** Numbers for objects, so that one motor is told from another that is made the same. */
const ids = new WeakMap<object, number>();
let next = 0;
const idOf = (object: object): number => {
  if (!ids.has(object)) ids.set(object, next++);
  return ids.get(object)!;
};

export function truthOf(kind: ProofKind, bench: SimulatedBench): string {
  const {escs, train, cockpit, controller} = bench;
  const {pending, identity} = controller;
  const firmware = once(() =>
    escs.map(({hardware, flash, chip: {application}}) => [
      hardware.serial,
      crc32(flash.view(application.start, application.end)),
    ]),
  );
  const settings = once(() => escs.map(({flash, chip}) => flash.read(chip.settings.start, chip.pageBytes)));
  const motors = train.outputs.map((o) => idOf(o.motor));
  const board = identity.serial;
  const {protocol, replies, loopHz, poles, idlePercent, gyroHz} = pending;
  const of: Readonly<Record<ProofKind, () => unknown>> = {
    pages: firmware,
    settings: () => [firmware().map(([serial]) => serial), settings().map((page) => crc32(page)), board, pending],
    replies: () => [firmware(), motors, train.replyFrom, board, protocol, replies, loopHz, poles, idlePercent, gyroHz],
    motion: () => [firmware(), motors, settings().map(moving)],
    mounting: () => [board, pending.mounting, cockpit.hand.mounted],
    receiver: () => [board, pending.receiver, cockpit.transmitter.ends, cockpit.transmitter.model],
    'fail-safe': () => [firmware(), board, pending.failSafe, pending.receiver],
    level: () => [
      board,
      pending.mounting,
      cockpit.hand.mounted,
      cockpit.biasG,
      offsets.map((key) => controller.keptSettings[key]),
    ],
    noise: () => [firmware(), settings().map((page) => crc32(page)), motors],
  };
  return canonicalJson(of[kind]());
}

/** Which arm an output turns, and, where that is told, which way: what a sighting says of it. */
export const seenTruth = (output: number, bench: SimulatedBench, tellsSense: boolean): string =>
  canonicalJson([
    bench.escs[output]!.hardware.serial,
    idOf(bench.train.outputs[output]!.motor),
    bench.arms[output],
    tellsSense && bench.train.turnsClockwise(output),
  ]);

/** Settings that act on how a motor moves. */
function moving(page: Uint8Array): unknown {
  const read = decodeSettings(page);
  return read.ok ? Object.entries(read.value.values).filter(([key]) => !stillKeys.has(key as never)) : crc32(page);
}

/** Read at the first time it is asked for. */
function once<T>(read: () => T): () => T {
  let kept: {readonly value: T} | undefined;
  return () => (kept ??= {value: read()}).value;
}
