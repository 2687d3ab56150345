/** What the simulated flight controller keeps of a burst: rows of all outputs at a share of its loop rate. */
import {crc32} from '@core/checksums';
import {throttleValue} from '@core/dshot/command';
import {encodePeriod, periodOfErpm} from '@core/dshot/reply';
import {burstRowBytes, noReplyWord, writeBurstRow} from '@core/link/burst';
import type {Burst} from '@core/link/operations';

/** Memory that is left for a burst, bytes. */
const memoryBytes = 256 * 1024;

/** An output at the moment of a row. */
interface KeptOutput {
  /** null where no reply came. */
  readonly erpm: number | null;
  readonly throttle: number;
  /** Phase current, A. */
  readonly amps: number;
}

export class BurstMemory {
  private rateHz: number;
  private rows = 0;
  /** Rows kept so far. */
  private kept = 0;
  private bytes = new Uint8Array();
  private startedMs = 0;

  constructor(private readonly outputs: number) {
    this.rateHz = 1;
  }

  get memoryRows(): number {
    return Math.floor(memoryBytes / burstRowBytes(this.outputs));
  }

  /** ms between rows; undefined while nothing is kept. */
  get everyMs(): number | undefined {
    return this.kept < this.rows ? 1000 / this.rateHz : undefined;
  }

  /** When the next row is due, ms on the controller's clock. */
  get nextMs(): number {
    return this.startedMs + (this.kept * 1000) / this.rateHz;
  }

  start(rows: number, rateHz: number, {nowMs, loopHz}: {readonly nowMs: number; readonly loopHz: number}): void {
    this.rateHz = loopHz / Math.max(1, Math.round(loopHz / rateHz));
    this.rows = rows;
    this.kept = 0;
    this.bytes = new Uint8Array(rows * burstRowBytes(this.outputs));
    this.startedMs = nowMs;
  }

  keep(volts: number, outputs: readonly KeptOutput[]): void {
    const us = Math.round((this.kept * 1e6) / this.rateHz);
    const cells = outputs.map(({erpm, throttle, amps}) => ({
      reply: erpm === null ? noReplyWord : encodePeriod(periodOfErpm(erpm)),
      value: throttleValue(throttle),
      centiamps: amps * 100,
    }));
    writeBurstRow(new DataView(this.bytes.buffer), this.kept++ * burstRowBytes(this.outputs), {us, volts, cells});
  }

  state(loopHz: number): Burst {
    return {
      rateHz: this.rateHz,
      rows: this.rows,
      kept: this.kept,
      rowBytes: burstRowBytes(this.outputs),
      memoryRows: this.memoryRows,
      mostHz: loopHz,
    };
  }

  /** Rows with their checksum; undefined when not all of them are kept. */
  read(from: number, count: number): {bytes: Uint8Array; crc32: number} | undefined {
    if (from + count > this.kept) return undefined;
    const rowBytes = burstRowBytes(this.outputs);
    const bytes = this.bytes.slice(from * rowBytes, (from + count) * rowBytes);
    return {bytes, crc32: crc32(bytes)};
  }
}
