/** Someone at the bench between a stop and the resume: other settings, other plugs. What was put there is remembered. */
import type {SimulatedBench} from '@simulator/hardware/bench';
import {meddleWithSettings} from '@simulator/hardware/meddle';
import {decodeSettings} from '@core/settings/page';
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
