/** Someone at the bench between a stop and the resume: other settings, other plugs. What was put there is remembered. */
import type {SimulatedBench} from '@simulator/hardware/bench';
import {meddleWithSettings} from '@simulator/hardware/hands/meddle';
import {decodeSettings} from '@core/settings/page';
import type {Part} from '@core/bench/replaced';
import type {WireConfig} from '@core/link/operations';
import type {Random} from '@simulator/random';

export interface Meddled {
  readonly output: number;
  /** The settings page as that hand left it. */
  readonly page: Uint8Array;
  /** False on a worn page, on which that hand's settings never stayed: there is nothing of them to lose. */
  readonly reads: boolean;
}

export const settingsPage = (bench: SimulatedBench, output: number): Uint8Array => {
  const {flash, chip} = bench.escs[output]!;
  return flash.read(chip.settings.start, chip.pageBytes);
};

/** Changes the settings of one ESC; undefined where its page does not read and stays as it is. */
export function meddle(bench: SimulatedBench, random: Random): Meddled | undefined {
  const output = random.below(bench.escs.length);
  const before = settingsPage(bench, output);
  meddleWithSettings(bench.escs[output]!);
  const page = settingsPage(bench, output);
  return page.every((byte, i) => byte === before[i]) ? undefined : {output, page, reads: decodeSettings(page).ok};
}

/** Swaps two plugs, of ESCs that can be told apart; undefined where they cannot. */
export function swapPlugs(bench: SimulatedBench, random: Random): (() => void) | undefined {
  const [a, b] = [random.below(bench.escs.length), random.below(bench.escs.length)];
  if (bench.escs[a]!.hardware.serial === bench.escs[b]!.hardware.serial) return undefined;
  bench.swapEscs(a, b);
  return () => bench.swapEscs(a, b);
}

/** What someone did to a craft that was proven, and the part of it that they say was replaced. */
interface Changed {
  readonly what: string;
  readonly part?: Part;
}

const fields = (random: Random): Partial<WireConfig> => {
  const changes: readonly Partial<WireConfig>[] = [
    {mounting: {roll: 0, pitch: 0, yaw: random.next() < 0.5 ? 180 : 90}},
    {receiver: {kind: 'serial', port: 1, roll: 2, pitch: 1, throttle: 3, yaw: 4, deadBandUs: 0}},
    {failSafe: {action: random.next() < 0.5 ? 'land' : 'hold', afterMs: 9_000}},
    {gyroLowPassHz: 50 + random.below(200)},
    {loopHz: 2_000},
    {poles: 10},
    {idlePercent: 1 + random.below(10)},
    {protocol: 'dshot150'},
  ];
  return changes[random.below(changes.length)]!;
};

/** Changes one thing on a craft that is off the cable: a field, plugs, an ESC, a motor, the flight controller, a setting. */
export function changeCraft(bench: SimulatedBench, random: Random): Changed | undefined {
  const output = random.below(bench.escs.length);
  const {controller} = bench;
  switch (random.below(6)) {
    case 0:
      controller.set(fields(random));
      controller.save();
      controller.restart();
      return {what: 'fields of the flight controller'};
    case 1:
      return swapPlugs(bench, random) && {what: 'two plugs'};
    case 2:
      bench.escs[output]!.replaceBy(`R${random.below(1e6)}`);
      return {what: 'an ESC'};
    case 3: {
      const arm = bench.arms[output]!;
      bench.train.replaceMotor(output, random.next() < 0.5);
      return {what: 'a motor', part: `motor ${arm}`};
    }
    case 4: {
      controller.replaceBoard(`C${random.below(1e6)}`, {...controller.kept, mounting: undefined});
      return {what: 'the flight controller'};
    }
    default:
      return meddle(bench, random) && {what: 'settings of an ESC'};
  }
}
