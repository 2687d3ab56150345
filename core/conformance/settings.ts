/** What a flight controller says of its own settings: whole, in order, true of what it holds, and set whole or not at all. */
import type {z} from 'zod';
import {sameJson} from '../canonical-json';
import {refusalOf} from '../link/setting-accepts';
import {settingOperations, settingsAtOnce, type SettingEntry, type SettingLine} from '../link/setting-shapes';
import {Broken, expectDone, NotTried, type ConformanceRule} from './adapter-rule';
import type {RawLink} from './raw-link';

type SettingOperation = 'settings.describe' | 'settings.read' | 'settings.write';

/** More pieces than this belong to no controller. */
const mostPieces = 2_000;

async function told<O extends SettingOperation>(
  link: RawLink,
  operation: O,
  argument: unknown,
): Promise<z.infer<(typeof settingOperations)[O]['result']>> {
  const read = settingOperations[operation].result.safeParse(
    expectDone(await link.ask(operation, argument), operation),
  );
  if (read.success) return read.data as z.infer<(typeof settingOperations)[O]['result']>;
  const [issue] = read.error.issues;
  throw new Broken(`${operation}: ${issue?.path.join('.') ?? ''} ${issue?.message ?? 'does not read'}.`);
}

async function inPieces<T>(read: (from: number) => Promise<{count: number; items: readonly T[]}>): Promise<T[]> {
  const all: T[] = [];
  for (let piece = 0; piece < mostPieces; piece++) {
    const {count, items} = await read(all.length);
    all.push(...items);
    if (all.length === count) return all;
    if (!items.length || all.length > count) throw new Broken(`Of ${count} settings, ${all.length} come in pieces.`);
  }
  throw new Broken('Its settings have no end.');
}

function describeBy(link: RawLink, most: number): Promise<SettingEntry[]> {
  let name: string | undefined;
  return inPieces(async (from) => {
    const {count, id, entries} = await told(link, 'settings.describe', {from, most});
    if (id !== (name ??= id)) throw new Broken(`Its description is named "${name}" and then "${id}".`);
    return {count, items: entries};
  });
}
const readAll = (link: RawLink) =>
  inPieces(async (from): Promise<{count: number; items: SettingLine[]}> => {
    const {count, lines} = await told(link, 'settings.read', {from, most: settingsAtOnce});
    return {count, items: lines};
  });

/** A number that can be set to another value without harm: nothing is saved. */
function harmless(entries: readonly SettingEntry[], lines: readonly SettingLine[]): SettingLine {
  for (const {key, kind, lockedWhile} of entries) {
    const now = lines.find((l) => l.key === key)?.value;
    if (kind.of !== 'number' || lockedWhile !== undefined || typeof now !== 'number') continue;
    const value = [kind.min, kind.max].find((v) => v !== now && !refusalOf(kind, v));
    if (value !== undefined && /^(lab|overlay|lights|craft|level|logging)\./.test(key)) return {key, value};
  }
  throw new NotTried('It describes no number that could be set without harm.');
}

export const settings: readonly ConformanceRule[] = [
  {
    id: 'settings-described',
    text: 'Settings are described in pieces of any length: the same entries in the same order, as many as count says, under one id, each key once.',
    needs: ['settings'],
    async try({link}) {
      const [whole, byFive] = [await describeBy(link, settingsAtOnce), await describeBy(link, 5)];
      const at = whole.findIndex((entry, i) => !sameJson(entry, byFive[i] ?? null));
      if (at >= 0 || byFive.length !== whole.length)
        throw new Broken(`Entry ${Math.max(0, at)} differs when it comes in pieces of five.`);
      const twice = whole.find(({key}, i) => whole.findIndex((e) => e.key === key) !== i);
      if (twice) throw new Broken(`"${twice.key}" is described twice.`);
    },
  },
  {
    id: 'settings-fit',
    text: 'Every setting that is described has its value in the same order; value and default are what its kind takes.',
    needs: ['settings'],
    async try({link}) {
      const [entries, lines] = [await describeBy(link, settingsAtOnce), await readAll(link)];
      const at = entries.findIndex(({key}, i) => lines[i]?.key !== key);
      if (at >= 0 || lines.length !== entries.length)
        throw new Broken(
          `Value ${Math.max(0, at)} is of "${lines[at]?.key ?? 'nothing'}", not "${entries[at]?.key ?? 'nothing'}".`,
        );
      for (const [i, {key, kind, usual}] of entries.entries())
        for (const [what, value] of [
          ['default', usual],
          ['value', lines[i]!.value],
        ] as const) {
          const refusal = refusalOf(kind, value);
          if (refusal) throw new Broken(`The ${what} of "${key}": ${refusal.text}`);
        }
    },
  },
  {
    id: 'settings-whole',
    text: 'A request with a wrong line is answered with the place of that line, and none of its lines is set; without one, all are.',
    needs: ['settings'],
    async try({link}) {
      const [entries, before] = [await describeBy(link, settingsAtOnce), await readAll(link)];
      const line = harmless(entries, before);
      const was = before.find(({key}) => key === line.key)!;
      const {wrong} = await told(link, 'settings.write', {lines: [line, {key: 'nothing.of_this', value: 1}]});
      const after = await readAll(link);
      if (!sameJson(after, before)) {
        await link.ask('settings.write', {lines: [was]});
        throw new Broken('Beside a line that is wrong, the other was set.');
      }
      if (wrong?.line !== 1 || wrong.code !== 'unknown')
        throw new Broken(`A key that it does not have is answered with ${JSON.stringify(wrong ?? null)}.`);
      const taken = await told(link, 'settings.write', {lines: [line]});
      const now = (await readAll(link)).find(({key}) => key === line.key)?.value;
      await link.ask('settings.write', {lines: [was]});
      if (taken.wrong || !sameJson(now, line.value)) throw new Broken(`"${line.key}" was set and reads otherwise.`);
    },
  },
  {
    id: 'settings-unsaved',
    text: 'A setting that was written and not saved is as it was after a restart.',
    needs: ['settings', 'controller'],
    async try({link}) {
      const [entries, before] = [await describeBy(link, settingsAtOnce), await readAll(link)];
      const line = harmless(entries, before);
      await told(link, 'settings.write', {lines: [line]});
      expectDone(await link.ask('controller.restart', null, link.next(), 4_000), 'controller.restart');
      const now = (await readAll(link)).find(({key}) => key === line.key);
      const was = before.find(({key}) => key === line.key)!;
      if (sameJson(now, was)) return;
      await link.ask('settings.write', {lines: [was]});
      await link.ask('settings.save', null);
      throw new Broken(`"${line.key}" was never saved, and is another after a restart.`);
    },
  },
];
