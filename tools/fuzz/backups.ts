/** Backups: damaged as a file, and sealed anew around damaged content, so that the shapes behind the seal are reached. */
import {blankRecord} from '@core/route/craft-record';
import {strFromU8, strToU8} from 'fflate';
import {packBackup, readBackup, type Backup} from '@core/backup/backup';
import {openZip, sealZip} from '@core/backup/sealed-zip';
import {demoFleet} from '@demo/craft/fleet';
import {Random} from '@simulator/random';
import {mutate} from './mutate';
import {settingsSnapshot} from './seeds';
import type {FuzzSubject} from './subject';

const stress = {
  ...{
    id: 's',
    craftId: 'juniper',
    at: 1,
    plannedS: 10,
    top: 0.3,
    protocol: 'dshot300',
    replies: true,
    loopHz: 4000,
  },
  quality: {
    ...{seconds: 10, load: 0.4, mostRpm: 40_000, timeS: 0.25},
    motors: [{asked: 9, lost: 0, implausible: 0, overThrottle: [{asked: 9, lost: 0}], overSpeed: []}],
    overTime: [{asked: [9], lost: [0], rpm: [null], throttle: 0.1}],
  },
};

const soundBackup = (): Backup => ({
  createdAt: '2026-11-26T08:00:00.000Z',
  rows: {
    craft: [demoFleet[0]!],
    records: [blankRecord('juniper')],
    values: [],
    orders: [],
    journal: [
      {
        orderId: 'o',
        at: 1,
        stepId: 's',
        event: 'done',
        text: '',
        snapshot: [{serial: 's', output: 0, page: Uint8Array.of(1, 2)}],
      },
    ],
    claims: [],
    histories: [],
    snapshots: [{...settingsSnapshot(), craftId: 'juniper'}],
    runs: [
      {
        ...{id: 'r', craftId: 'juniper', at: 1, script: 'sweep', outputs: [0], source: 'burst', rateHz: 2000},
        ...{poles: 14, csv: 'time_s,throttle_1,rpm_1\n0,5,100\n'},
      },
    ],
    stresses: [stress],
    presets: [],
  },
  files: [],
  logs: [],
});

export function backupSubject(): FuzzSubject {
  const sound = packBackup(soundBackup());
  const opened = openZip(sound);
  if (!opened.ok) throw new Error(opened.problem.meaning);
  const entries = Object.fromEntries(opened.value);
  const names = Object.keys(entries);
  const random = new Random(77);
  let turn = 0;
  return {
    seeds: [sound],
    take: (input) => {
      // Every second input is sealed anew around one damaged entry.
      const file = turn++ % 2 ? input : resealed(entries, names[random.below(names.length)]!, random);
      const read = readBackup(file);
      const isLarge = read.ok && JSON.stringify(read.value.rows).length > 1 << 20;
      return {isFaulty: !read.ok, tooLarge: isLarge || (!read.ok && read.problem.meaning.length > 1_000)};
    },
  };
}

function resealed(entries: Readonly<Record<string, Uint8Array>>, name: string, random: Random): Uint8Array {
  const damaged = mutate(random, entries[name]!);
  // Half of them stay JSON, so that it is the shape that must refuse.
  const text = strFromU8(entries[name]!).replace(/\d+|true|"[a-z]+"/g, (word) =>
    random.next() < 0.03 ? 'null' : word,
  );
  return sealZip({...entries, [name]: random.next() < 0.5 ? damaged : strToU8(text)});
}
