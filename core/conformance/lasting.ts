/** What was done is done once and stays done: writes, saved configurations, firmware of the flight controller. */
import {crc32} from '../checksums';
import {addressText} from '../hex';
import {operations} from '../link/operations';
import {sleep} from '../link/port';
import type {RawLink} from './raw-link';
import {isBlank, spareAddress, writeFlash} from './spare-page';
import {Broken, expectDone, NotTried, type ConformanceRule, type Trial} from './adapter-rule';

/** An adapter that carries something out again does so within this time, ms: longer than any of its buffers should live. */
const echoMs = 10_000;

async function polesOf(link: RawLink): Promise<number> {
  const config = expectDone(await link.ask('controller.read', null), 'controller.read') as {poles?: unknown};
  if (typeof config.poles === 'number') return config.poles;
  throw new Broken('controller.read has no poles.');
}

const otherThan = (...taken: readonly number[]): number => [12, 14, 22].find((p) => !taken.includes(p))!;

async function setPoles(link: RawLink, poles: number): Promise<void> {
  expectDone(await link.ask('controller.set', {poles}), 'controller.set');
}

async function restart(link: RawLink): Promise<void> {
  expectDone(await link.ask('controller.restart', null, link.next(), 4_000), 'controller.restart');
}

async function afterRestart(link: RawLink, poles: number, what: string): Promise<void> {
  await restart(link);
  const now = await polesOf(link);
  if (now !== poles) throw new Broken(`${what}: after a restart poles are ${now}, not ${poles}.`);
}

export const lasting: readonly ConformanceRule[] = [
  {
    id: 'writes-once',
    text: 'A write is carried out once: 10 s later, what was erased or set after it is as it was.',
    needs: ['esc'],
    async try(trial) {
      const {link, hello} = trial;
      const {address} = await spareAddress(trial);
      await writeFlash(trial, address, new Uint8Array(32).fill(0x5a));
      expectDone(await link.ask('esc.erase', {output: 0, address}), 'esc.erase');
      const poles = hello.abilities.includes('controller') ? await polesOf(link) : undefined;
      if (poles !== undefined) {
        await setPoles(link, otherThan(poles));
        await setPoles(link, poles);
      }
      await sleep(link.clock, echoMs);
      expectDone(await link.ask('esc.enter', {output: 0}), 'esc.enter');
      if (!(await isBlank(trial, address, 32))) {
        await link.ask('esc.erase', {output: 0, address});
        throw new Broken(`The write to ${addressText(address)} was carried out again after the page was erased.`);
      }
      if (poles !== undefined && (await polesOf(link)) !== poles)
        throw new Broken('controller.set was carried out again after a later one.');
    },
  },
  {
    id: 'save-keeps',
    text: 'What was saved is there after a restart; what was set and not saved is not.',
    needs: ['controller'],
    async try({link}) {
      const poles = await polesOf(link);
      const other = otherThan(poles);
      await setPoles(link, other);
      await afterRestart(link, poles, 'Set and not saved');
      await setPoles(link, other);
      expectDone(await link.ask('controller.save', null), 'controller.save');
      try {
        await afterRestart(link, other, 'Set and saved');
      } finally {
        await setPoles(link, poles);
        await link.ask('controller.save', null);
      }
      await afterRestart(link, poles, 'Set back and saved');
    },
  },
  {
    id: 'loader-writes',
    text: 'Firmware sent to the loader is in flash when its blocks are done: its checksum is that of the bytes, and it starts.',
    needs: ['loader', 'controller'],
    async try(trial) {
      const {link} = trial;
      const was = operations['controller.identify'].result.safeParse(
        expectDone(await link.ask('controller.identify', null), 'controller.identify'),
      );
      if (!was.success) throw new Broken('controller.identify does not read.');
      const bytes = trial.firmwareFor?.({...was.data, standIn: trial.hello.standIn === true});
      if (!bytes)
        throw new NotTried(
          `It writes the flight controller: give its image for ${was.data.board} with --controller-image.`,
        );
      expectDone(await link.ask('loader.enter', null, link.next(), 4_000), 'loader.enter');
      await download(trial, bytes);
      expectDone(await link.ask('loader.leave', null, link.next(), 4_000), 'loader.leave');
      expectDone(await link.ask('controller.identify', null), 'controller.identify after its firmware was written');
    },
  },
];

/** Writes all blocks, but the first one twice: first with other bytes, so that what is there already proves nothing. */
async function download({link}: Trial, bytes: Uint8Array): Promise<void> {
  const told = operations['loader.identify'].result.safeParse(
    expectDone(await link.ask('loader.identify', null), 'loader.identify'),
  );
  if (!told.success) throw new Broken('loader.identify does not read.');
  const {blockBytes, start} = told.data;
  const send = async (block: number, part: Uint8Array) =>
    expectDone(await link.ask('loader.download', {block, bytes: part}), `loader.download of block ${block}`);
  const holds = async (expected: Uint8Array, what: string) => {
    const sum = expectDone(
      await link.ask('loader.checksum', {address: start, length: expected.length}),
      'loader.checksum',
    );
    if (sum !== crc32(expected)) throw new Broken(`${what}, flash does not hold what was sent.`);
  };
  const [first, blocks] = [bytes.slice(0, blockBytes), Math.ceil(bytes.length / blockBytes)];
  const other = first.map((byte) => byte ^ 0xff);
  expectDone(await link.ask('loader.clear', null), 'loader.clear');
  await send(0, other);
  let wrong: unknown;
  await holds(other, 'After one block').catch((error: unknown) => (wrong = error));
  expectDone(await link.ask('loader.clear', null), 'loader.clear');
  for (let block = 0; block < blocks; block++)
    await send(block, bytes.slice(block * blockBytes, (block + 1) * blockBytes));
  await holds(bytes, `After all ${blocks} blocks`);
  if (wrong) throw wrong as Error;
}
