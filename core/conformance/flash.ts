/** Flash: the bootloader is never written, what is read is what is there. Nothing of this changes an ESC for good. */
import {crc32} from '../checksums';
import {addressText, hexOf} from '../hex';
import {Broken, expectDone, expectRefusal, type ConformanceRule, type Trial} from './adapter-rule';
import {readFlash, readRange, spareAddress, writeFlash} from './spare-page';

const output = 0;
const needs = ['esc'] as const;

async function enter({link}: Trial): Promise<void> {
  expectDone(await link.ask('esc.enter', {output}), 'esc.enter');
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
    text: 'esc.read answers exactly the bytes that were requested, and refuses addresses that are not there.',
    needs,
    async try(trial) {
      await enter(trial);
      for (const length of [1, 63, 256]) await readFlash(trial, trial.chip!.application.start, length);
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
      const {chip, link} = trial;
      const {application, settings, pageBytes} = chip!;
      const ask = (address: number, length: number) => link.ask('esc.checksum', {output, address, length});
      if (!chip!.canChecksum) return expectRefusal(await ask(application.start, 256), 'esc.checksum', 'unsupported');
      const last = application.end - pageBytes;
      const inside = application.start + pageBytes / 2;
      const ranges: readonly (readonly [number, number])[] = [
        [application.start, 256],
        [inside, 2 * pageBytes],
        [application.start + 5 * pageBytes, pageBytes],
        [last - 64, pageBytes + 64],
        [settings.start, pageBytes],
      ];
      for (const [address, length] of ranges) {
        const sum = expectDone(await ask(address, length), 'esc.checksum');
        if (sum !== crc32(await readRange(trial, address, length)))
          throw new Broken(`The checksum of ${length} bytes at ${addressText(address)} is not that of the bytes.`);
      }
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
    id: 'bootloader-erase',
    text: 'No page of the bootloader is ever erased.',
    needs: ['esc', 'spare-esc'],
    async try(trial) {
      await enter(trial);
      const {bootloader, pageBytes} = trial.chip!;
      const before = await readRange(trial, bootloader.start, pageBytes);
      for (const address of [bootloader.start, bootloader.end - pageBytes]) {
        const heard = await trial.link.ask('esc.erase', {output, address});
        expectRefusal(heard, `esc.erase at ${addressText(address)}, in the bootloader`, 'protected');
      }
      const after = await readRange(trial, bootloader.start, pageBytes);
      if (before.some((byte, i) => byte !== after[i])) throw new Broken('It refused, and erased it all the same.');
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
      const {link} = trial;
      const {address} = await spareAddress(trial);
      const write = (value: number) => writeFlash(trial, address, new Uint8Array(32).fill(value));
      const holds = async (value: number, after: string) => {
        if ((await readFlash(trial, address, 32)).some((byte) => byte !== value))
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
