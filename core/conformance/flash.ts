/** Flash: the bootloader is never written, what is read is what is there. Nothing of this changes an ESC for good. */
import {crc32} from '../checksums';
import {addressText, hexOf} from '../hex';
import {Broken, expectDone, expectRefusal, NotTried, type ConformanceRule, type Trial} from './rule';

const output = 0;
const needs = ['esc'] as const;

async function enter({link}: Trial): Promise<void> {
  expectDone(await link.ask('esc.enter', {output}), 'esc.enter');
}

async function read({link}: Trial, address: number, length: number): Promise<Uint8Array> {
  const bytes = expectDone(await link.ask('esc.read', {output, address, length}), 'esc.read');
  if (bytes instanceof Uint8Array && bytes.length === length) return bytes;
  throw new Broken(`esc.read of ${length} bytes did not answer with ${length} bytes.`);
}

export const flash: readonly ConformanceRule[] = [
  {
    id: 'enter-first',
    text: 'Flash is out of reach before esc.enter and after esc.leave.',
    needs,
    async try(trial) {
      await enter(trial);
      expectDone(await trial.link.ask('esc.leave', {output}), 'esc.leave');
      const read = await trial.link.ask('esc.read', {output, address: 0, length: 16});
      expectRefusal(read, 'esc.read after esc.leave', 'not-in-bootloader');
    },
  },
  {
    id: 'exact-bytes',
    text: 'esc.read answers exactly the bytes that were asked for, and refuses addresses that are not there.',
    needs,
    async try(trial) {
      await enter(trial);
      for (const length of [1, 63, 256]) await read(trial, trial.chip!.application.start, length);
      const beyond = {output, address: trial.chip!.flashBytes - 8, length: 16};
      expectRefusal(await trial.link.ask('esc.read', beyond), 'esc.read beyond flash', 'bad-address');
    },
  },
  {
    id: 'checksum',
    text: 'esc.checksum is the CRC-32 of the bytes, or refused as unsupported.',
    needs,
    async try(trial) {
      await enter(trial);
      const {start} = trial.chip!.application;
      const heard = await trial.link.ask('esc.checksum', {output, address: start, length: 256});
      if (!trial.chip!.canChecksum) return expectRefusal(heard, 'esc.checksum', 'unsupported');
      const bytes = await read(trial, start, 256);
      if (expectDone(heard, 'esc.checksum') !== crc32(bytes))
        throw new Broken('The checksum is not that of the bytes.');
    },
  },
  {
    id: 'bootloader-kept',
    text: 'The bootloader is never written by any operation.',
    needs,
    async try(trial) {
      await enter(trial);
      const {start} = trial.chip!.bootloader;
      // Ones clear nothing: an adapter that lets this through harms no ESC by it.
      const bytes = new Uint8Array(16).fill(0xff);
      const heard = await trial.link.ask('esc.write', {output, address: start, bytes});
      expectRefusal(heard, `esc.write at ${addressText(start)}, in the bootloader`, 'protected');
    },
  },
  {
    id: 'one-page',
    text: 'A write that reaches over the end of a page is refused with bad-address.',
    needs,
    async try(trial) {
      await enter(trial);
      const {application, pageBytes} = trial.chip!;
      const bytes = new Uint8Array(16).fill(0xff);
      const write = {output, address: application.start + pageBytes - 8, bytes};
      expectRefusal(await trial.link.ask('esc.write', write), 'esc.write over the end of a page', 'bad-address');
    },
  },
  {
    id: 'write-and-erase',
    text: 'What is written is there; bits can only be cleared, until the page is erased.',
    needs,
    async try(trial) {
      const {chip, link} = trial;
      const {application, module, pageBytes} = chip!;
      const address = (module?.start ?? application.end) - pageBytes;
      await enter(trial);
      if (!(await isBlank(trial, address, pageBytes)))
        throw new NotTried(`The page at ${addressText(address)} is in use.`);
      const write = async (value: number) => {
        const bytes = new Uint8Array(32).fill(value);
        expectDone(await link.ask('esc.write', {output, address, bytes}), 'esc.write');
      };
      const holds = async (value: number, after: string) => {
        if ((await read(trial, address, 32)).some((byte) => byte !== value))
          throw new Broken(`After ${after} the page does not hold 0x${hexOf(value, 2)}.`);
      };
      await write(0x5a);
      await holds(0x5a, 'writing it');
      await write(0xf0);
      await holds(0x50, 'writing 0xf0 over 0x5a');
      expectDone(await link.ask('esc.erase', {output, address}), 'esc.erase');
      await holds(0xff, 'erasing it');
    },
  },
];

async function isBlank(trial: Trial, address: number, length: number): Promise<boolean> {
  for (let at = 0; at < length; at += 256)
    if ((await read(trial, address + at, 256)).some((byte) => byte !== 0xff)) return false;
  return true;
}
