/**
 * The loader of the simulated flight controller: it lies below the application, is never written, and starts only what checks
 * and is for its board. States and their order as USB DFU 1.1 has them (from memory).
 */
import {crc32} from '@core/checksums';
import {controllerVariant, findControllerChip} from '@core/controller/firmware/chips';
import {checkApplication, type Identity} from '@core/firmware/identity';
import type {Argument, LoaderFault, LoaderIdentity, LoaderState} from '@core/link/operations';
import type {KeptLoader} from '../bench-setup';
import type {Random} from '../../random';

const blockBytes = 1024;
/** Erasing and writing one block, ms; starting firmware or loader, ms. */
export const loaderMs = {block: 36, restart: 700} as const;

type LoaderCall = {
  [O in LoaderOperation]: {readonly operation: O; readonly argument: Argument<O>};
}[LoaderOperation];
type LoaderOperation = 'loader.identify' | 'loader.state' | 'loader.download' | 'loader.checksum' | 'loader.clear';
/** Done at once, or after its time; or refused. */
type LoaderTaken =
  | {readonly ms: number; readonly finish: () => unknown}
  | {readonly code: string; readonly text: string};
const now = (value: unknown, ms = 0): LoaderTaken => ({ms, finish: () => value});

export class Loader {
  /** The whole application range. */
  readonly application: Uint8Array;
  /** The loader runs and no firmware does. */
  isActive: boolean;
  /** It does not tell which board it is on; it starts nothing that is for another all the same. */
  isUnnamed: boolean;
  private readonly start: number;
  private state: LoaderState = 'dfuIDLE';
  private fault: LoaderFault = 'OK';
  private next = 0;
  /** Block that is being written, while its time runs. */
  private writing: number | undefined;

  constructor(
    private readonly board: {readonly board: string; readonly chip: string},
    kept: KeptLoader,
    private readonly onChange: () => void,
  ) {
    const chip = findControllerChip(board.chip);
    if (!chip) throw new RangeError(`Chip ${board.chip} is not known`);
    this.start = chip.application.start;
    this.application = kept.application.slice();
    this.isActive = kept.isActive;
    this.isUnnamed = kept.isUnnamed === true;
  }

  /** What it would start; undefined where nothing checks or it is for another board. */
  get firmware(): Identity | undefined {
    const read = checkApplication(this.application);
    if (!read.ok) return undefined;
    const {board, chip, variant} = read.value;
    const isOurs = board === this.board.board && chip === this.board.chip && variant === controllerVariant;
    return isOurs ? read.value : undefined;
  }

  /** Somebody else's firmware is on it: nothing that starts, and nothing that tells the board. */
  holdStranger(random: Random): void {
    this.application.set(random.bytes(this.application.length >> 1));
    this.isUnnamed = true;
    this.powerUp();
  }

  enter(): void {
    this.isActive = true;
    [this.state, this.fault, this.next] = ['dfuIDLE', 'OK', 0];
    this.onChange();
  }

  /** Starts the firmware; a refusal where there is none to start. */
  leave(): LoaderTaken {
    if (!this.firmware) {
      const read = checkApplication(this.application);
      const wrong = read.ok;
      [this.state, this.fault] = ['dfuERROR', wrong ? 'errTARGET' : 'errFIRMWARE'];
      return wrong
        ? {
            code: 'wrong-target',
            text: `What was written is for ${read.value.board} / ${read.value.chip}, not for this board.`,
          }
        : {code: 'no-application', text: 'What was written does not check: the loader stays.'};
    }
    this.isActive = false;
    [this.state, this.next] = ['dfuIDLE', 0];
    this.onChange();
    return now(null);
  }

  take(call: LoaderCall): LoaderTaken {
    switch (call.operation) {
      case 'loader.identify':
        return now(this.identity());
      case 'loader.state':
        return now(this.told());
      case 'loader.clear':
        [this.state, this.fault, this.next] = ['dfuIDLE', 'OK', 0];
        return now(this.told());
      case 'loader.checksum':
        return this.checksum(call.argument);
      case 'loader.download':
        return this.download(call.argument);
    }
  }

  /** It starts anew: what checks is started, else the loader stays. @param byHand someone holds its button, or bridges its pads. */
  powerUp(byHand = false): void {
    this.isActive = byHand || !this.firmware;
    [this.state, this.fault, this.next] = ['dfuIDLE', 'OK', 0];
    this.onChange();
  }

  /** Power is lost: what was being erased or written is undefined. */
  cut(random: Random): void {
    if (this.writing === undefined) return;
    this.application.set(random.bytes(blockBytes).subarray(0, this.room(this.writing)), this.writing * blockBytes);
    this.writing = undefined;
    this.onChange();
  }

  private checksum({address, length}: Argument<'loader.checksum'>): LoaderTaken {
    const from = address - this.start;
    if (from < 0 || from + length > this.application.length)
      return {code: 'bad-address', text: 'That is outside of the application.'};
    return now(crc32(this.application.subarray(from, from + length)), length / 4000);
  }

  private download({block, bytes}: Argument<'loader.download'>): LoaderTaken {
    if (this.state === 'dfuERROR') return {code: 'loader-error', text: `The loader is in error: ${this.fault}.`};
    const isFirst = block === 0;
    if (!isFirst && block !== this.next) {
      [this.state, this.fault] = ['dfuERROR', 'errADDRESS'];
      return {code: 'loader-error', text: `Block ${block} came where ${this.next} was due.`};
    }
    const at = block * blockBytes;
    if (at + bytes.length > this.application.length) {
      [this.state, this.fault] = ['dfuERROR', 'errADDRESS'];
      return {code: 'bad-address', text: 'The image does not fit into the application.'};
    }
    // The first block out first: without an identity nothing starts that was not written to its end.
    if (isFirst) this.application.fill(0xff);
    this.application.fill(0xff, at, at + this.room(block));
    this.writing = block;
    return {ms: loaderMs.block, finish: () => this.finish(block, bytes)};
  }

  /** The block's time is over: it is there, unless its power went. */
  private finish(block: number, bytes: Uint8Array): unknown {
    if (this.writing !== block) return undefined;
    this.application.set(bytes, block * blockBytes);
    this.writing = undefined;
    [this.state, this.next] = ['dfuDNLOAD-IDLE', block + 1];
    this.onChange();
    return this.told();
  }

  private room = (block: number): number => Math.min(blockBytes, this.application.length - block * blockBytes);

  private told = () => ({state: this.state, fault: this.fault, next: this.next});

  private identity(): LoaderIdentity {
    const chip = findControllerChip(this.board.chip)!;
    return {
      ...{board: this.isUnnamed ? '' : this.board.board, chip: this.board.chip},
      flashBytes: chip.flashBytes,
      start: chip.application.start,
      end: chip.application.end,
      ...{blockBytes, revision: 3, applicationValid: this.firmware !== undefined},
    };
  }
}
