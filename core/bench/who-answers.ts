/** Who is on each output right now: asked of the bootloaders, which know the serial burnt into their chip. */
import type {BenchClient} from '../link/client';
import {sideBySide} from '../side-by-side';

/** An ESC that told who it is. */
interface AnsweringEsc {
  readonly output: number;
  /** Serial burnt into its chip. */
  readonly serial: string;
}

/** Enters and leaves every bootloader. Rejects when an ESC does not answer or a motor is commanded to turn. */
export function whoAnswers(client: BenchClient, outputs: readonly number[]): Promise<AnsweringEsc[]> {
  return sideBySide(outputs, async (output) => {
    const {serial} = await client.request('esc.enter', {output});
    await client.request('esc.leave', {output});
    return {output, serial};
  });
}
