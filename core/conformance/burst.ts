/** Bursts: rows of all outputs at a steady rate, kept by the controller, read in checked pieces. */
import {crc32} from '../checksums';
import {burstRowBytes} from '../link/burst';
import {burstSchema, maxBurstBytes, maxBurstRows, operations, type Burst} from '../link/operations';
import {sleep} from '../link/port';
import {Broken, expectDone, expectRefusal, type ConformanceRule, type Trial} from './adapter-rule';

const needs = ['burst'] as const;
/** A burst that ends soon: so many rows, and the time they may take at most, ms. */
const rows = 40;
const restMs = 600;

async function start({link}: Trial, rateHz: number, wanted = rows): Promise<Burst> {
  return shaped(expectDone(await link.ask('burst.start', {rateHz, rows: wanted}), 'burst.start'), 'burst.start');
}

function shaped(value: unknown, operation: string): Burst {
  const burst = burstSchema.safeParse(value);
  if (!burst.success) throw new Broken(`${operation}: ${burst.error.issues[0]?.message ?? 'does not read'}.`);
  return burst.data;
}

/** The burst when it is full. */
async function full(trial: Trial): Promise<Burst> {
  await sleep(trial.link.clock, restMs);
  const burst = shaped(expectDone(await trial.link.ask('burst.state', null), 'burst.state'), 'burst.state');
  if (burst.kept !== burst.rows)
    throw new Broken(
      `${restMs} ms after a burst of ${burst.rows} rows at ${burst.rateHz} Hz it has kept ${burst.kept}.`,
    );
  return burst;
}

async function pieceAt({link}: Trial, from: number, count: number): Promise<Uint8Array> {
  const answer = operations['burst.read'].result.safeParse(
    expectDone(await link.ask('burst.read', {from, count}), 'burst.read'),
  );
  if (!answer.success) throw new Broken('burst.read: the answer has no bytes with their checksum.');
  const {bytes, crc32: told} = answer.data;
  if (crc32(bytes) !== told) throw new Broken('The checksum of a piece of a burst does not match its bytes.');
  return bytes;
}

const rateOf = ({mostHz}: Burst): number => Math.min(500, mostHz);

export const burst: readonly ConformanceRule[] = [
  {
    id: 'burst-rate',
    text: 'A burst runs at the loop rate over a whole number, at least as fast as asked or a step below, and says so.',
    needs,
    async try(trial) {
      const {mostHz} = await start(trial, 1);
      const {rateHz} = await start(trial, mostHz / 2.2);
      const parts = mostHz / rateHz;
      if (Math.abs(parts - Math.round(parts)) > 1e-6)
        throw new Broken(`The rate of ${rateHz} Hz is not a whole part of the loop rate of ${mostHz} Hz.`);
      if (parts < 1.5 || parts > 3.5) throw new Broken(`${mostHz / 2.2} Hz were requested, ${rateHz} Hz are kept.`);
    },
  },
  {
    id: 'burst-limits',
    text: 'A burst that the memory cannot hold or the loop cannot keep is refused, with burst-too-long or burst-too-fast.',
    needs,
    async try(trial) {
      const {link} = trial;
      const state = await start(trial, 1);
      const tooLong = {rateHz: 1, rows: state.memoryRows + 1};
      expectRefusal(await link.ask('burst.start', tooLong), 'A burst longer than the memory', 'burst-too-long');
      const tooFast = {rateHz: state.mostHz * 2, rows: 1};
      expectRefusal(await link.ask('burst.start', tooFast), 'A burst faster than the loop', 'burst-too-fast');
    },
  },
  {
    id: 'burst-rows',
    text: 'Rows have their length, a time that rises from 0 by the rate on the controller’s own clock, and a supply.',
    needs,
    async try(trial) {
      const {outputs} = trial.hello;
      const {rateHz} = await start(trial, rateOf(await start(trial, 1)));
      const {rowBytes} = await full(trial);
      if (rowBytes !== burstRowBytes(outputs))
        throw new Broken(`Rows of ${outputs} outputs have ${burstRowBytes(outputs)} bytes, not ${rowBytes}.`);
      const bytes = await pieceAt(trial, 0, 20);
      if (bytes.length !== 20 * rowBytes) throw new Broken(`20 rows came as ${bytes.length} bytes.`);
      const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
      const times = Array.from({length: 20}, (_, row) => view.getUint32(row * rowBytes));
      const wrong = times.findIndex((us, row) => Math.abs(us - (row * 1e6) / rateHz) > 0.1e6 / rateHz + 1);
      if (wrong >= 0) throw new Broken(`Row ${wrong + 1} of a burst at ${rateHz} Hz is at ${times[wrong]} µs.`);
    },
  },
  {
    id: 'burst-read',
    text: 'Reading a burst again gives the same bytes, with the CRC-32 of each piece; rows that were not kept are refused.',
    needs,
    async try(trial) {
      const {link} = trial;
      await start(trial, rateOf(await start(trial, 1)));
      const {kept, rowBytes} = await full(trial);
      const once = await pieceAt(trial, 3, 5);
      const again = await pieceAt(trial, 3, 5);
      if (once.some((byte, i) => byte !== again[i])) throw new Broken('The same rows read twice differ.');
      expectRefusal(await link.ask('burst.read', {from: kept, count: 1}), 'A row that was not kept', 'not-kept');
      const most = Math.floor(maxBurstBytes / rowBytes);
      if (most < maxBurstRows)
        expectRefusal(
          await link.ask('burst.read', {from: 0, count: most + 1}),
          `More than ${maxBurstBytes} bytes`,
          'bad-argument',
          'not-kept',
        );
    },
  },
];
