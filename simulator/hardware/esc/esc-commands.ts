/** What an ESC's bootloader does with a command from the wire, and how long it takes. */
import {crc32} from '@core/checksums';
import {addressText} from '@core/hex';
import {eraseMs, wireMs, writeMsPer128Bytes} from '@core/firmware/chips';
import type {Argument, Operation} from '@core/link/operations';
import type {Esc} from './esc';
import type {WireTiming} from '../wires/wires';

type EscOperation = Extract<Operation, `esc.${string}`>;
export type EscCall = {[O in EscOperation]: {operation: O; argument: Argument<O>}}[EscOperation];

/** A command the ESC takes: its time, and what it does and answers at the end. */
interface Accepted {
  readonly timing: WireTiming;
  readonly finish: () => unknown;
}
export interface Refused {
  readonly code: string;
  readonly text: string;
}

const enterMs = 40;

/** A command for an ESC that is in its bootloader; `name` is how texts call it. */
interface Asked<O extends EscOperation> {
  readonly esc: Esc;
  readonly argument: Argument<O>;
  readonly name: string;
}
const refuse = (code: string, text: string): Refused => ({code, text});
const beyond = ({esc, name}: {readonly esc: Esc; readonly name: string}, end: number): Refused | undefined =>
  end <= esc.chip.flashBytes ? undefined : refuse('bad-address', `${name} has no address ${end - 1}.`);

/** Judges a command for a powered ESC that answers. `name` is how texts call it. */
export function takeEscCommand(esc: Esc, call: EscCall, name: string): Accepted | Refused {
  if (call.operation === 'esc.enter') return enter(esc);
  if (esc.state !== 'bootloader') return refuse('not-in-bootloader', `${name} is not in its bootloader.`);
  switch (call.operation) {
    case 'esc.leave':
      return leave(esc);
    case 'esc.read':
      return read({esc, argument: call.argument, name});
    case 'esc.checksum':
      return checksum({esc, argument: call.argument, name});
    case 'esc.erase':
      return erase({esc, argument: call.argument, name});
    case 'esc.write':
      return write({esc, argument: call.argument, name});
  }
}

const enter = (esc: Esc): Accepted => ({
  timing: {inMs: enterMs, outMs: wireMs(esc.chip, 24)},
  finish: () => {
    esc.state = 'bootloader';
    const {chip, serial, bootRevision, dialect} = esc.hardware;
    return {chip, serial, bootRevision, dialect, applicationValid: esc.applicationValid};
  },
});

const leave = (esc: Esc): Accepted => ({
  timing: {inMs: enterMs, outMs: 0},
  finish: () => {
    esc.start();
    return null;
  },
});

function read({esc, argument: {address, length}, name}: Asked<'esc.read'>): Accepted | Refused {
  return (
    beyond({esc, name}, address + length) ?? {
      timing: {inMs: wireMs(esc.chip, 0), outMs: wireMs(esc.chip, length)},
      finish: () => esc.flash.read(address, length),
    }
  );
}

function checksum({esc, argument: {address, length}, name}: Asked<'esc.checksum'>): Accepted | Refused {
  const {chip} = esc;
  if (!chip.canChecksum) return refuse('unsupported', `${name}: this bootloader cannot compute checksums.`);
  const computeMs = length / 4096;
  return (
    beyond({esc, name}, address + length) ?? {
      timing: {inMs: wireMs(chip, 0) / 2, outMs: wireMs(chip, 4) / 2 + computeMs},
      finish: () => crc32(esc.flash.read(address, length)),
    }
  );
}

function erase({esc, argument, name}: Asked<'esc.erase'>): Accepted | Refused {
  const {chip} = esc;
  const {pageBytes, application, module} = chip;
  const address = Math.floor(argument.address / pageBytes) * pageBytes;
  const bad = esc.writeRefusal({start: address, end: address + pageBytes});
  if (bad) return refuse(bad, `${name} does not erase ${addressText(address)}.`);
  // A reply module must never meet another base than the one it was put on: erasing the base's first page clears it.
  const alsoModule = module && address === application.start ? module : undefined;
  const flashMs = eraseMs * (alsoModule ? 1 + (alsoModule.end - alsoModule.start) / pageBytes : 1);
  const isBlank = !alsoModule || esc.flash.view(alsoModule.start, alsoModule.end).every((b) => b === 0xff);
  return {
    timing: {inMs: wireMs(chip, 0), flashMs: isBlank ? eraseMs : flashMs, address, length: pageBytes, outMs: 0},
    finish: () => {
      esc.flash.erase(address);
      if (alsoModule && !isBlank)
        for (let at = alsoModule.start; at < alsoModule.end; at += pageBytes) esc.flash.erase(at);
      return null;
    },
  };
}

function write({esc, argument: {address, bytes}, name}: Asked<'esc.write'>): Accepted | Refused {
  const {chip} = esc;
  const isOnePage = (address % chip.pageBytes) + bytes.length <= chip.pageBytes;
  const bad =
    esc.writeRefusal({start: address, end: address + bytes.length}) ?? (isOnePage ? undefined : 'bad-address');
  if (bad) return refuse(bad, `${name} does not write ${addressText(address)}.`);
  const flashMs = (bytes.length / 128) * writeMsPer128Bytes;
  return {
    timing: {inMs: wireMs(chip, bytes.length), flashMs, address, length: bytes.length, outMs: 0},
    finish: () => {
      esc.flash.write(address, bytes);
      return null;
    },
  };
}
