/** Snapshot files, and everything that is done with one that reads. */
import {demoFleet} from '@demo/craft/fleet';
import {
  compareSides,
  readSnapshot,
  restoreAsPlan,
  sideOfPlan,
  sideOfSnapshot,
  snapshotRows,
} from '@core/snapshot/snapshot';
import {juniperController} from '@simulator/benches/juniper';
import {settingsSnapshot} from './seeds';
import type {FuzzSubject} from './subject';

const utf8 = (value: unknown) => new TextEncoder().encode(JSON.stringify(value));

export function snapshotSubject(): FuzzSubject {
  const juniper = demoFleet[0]!;
  const whole = settingsSnapshot();
  return {
    seeds: [utf8(whole), utf8({...whole, controller: juniperController}), utf8({...whole, escs: []})],
    take: (input) => {
      const read = readSnapshot(new TextDecoder().decode(input));
      if (!read.ok) return {isFaulty: true};
      snapshotRows(read.value);
      restoreAsPlan(read.value, 8, juniper);
      compareSides(sideOfSnapshot(read.value), sideOfPlan(juniper), juniper.arms.length);
      return {isFaulty: false};
    },
  };
}
