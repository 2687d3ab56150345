/** Asks everything on the bench who it is and what it holds. */
import {findChip, pageCount} from '../firmware/chips';
import type {Hardware} from '../firmware/fit';
import {identityBytes, readIdentity} from '../firmware/identity';
import type {BenchClient} from '../link/client';
import {ProblemError} from '../problem';
import {decodeSettings} from '../settings/page';
import {pageChecksum, readFlash} from './esc-access';
import type {Found, FoundEsc, SilentEsc} from './found';

export interface SurveyOptions {
  /** Epoch ms to stamp the result with. */
  readonly at: number;
  /** Share done, 0…1, and what is being asked. */
  readonly onProgress?: (share: number, text: string) => void;
  /** Hardware known from an earlier survey, by chip serial. */
  readonly known?: ReadonlyMap<string, Hardware>;
}

/** One silent ESC does not hide the others; a closed link rejects. */
export async function survey(client: BenchClient, {at, onProgress, known}: SurveyOptions): Promise<Found> {
  const hello = await client.request('hello', null);
  const power = await client.request('power', null);
  const controller = {
    identity: await client.request('controller.identify', null),
    config: await client.request('controller.read', null),
  };
  const escs: FoundEsc[] = [];
  const silent: SilentEsc[] = [];
  for (let output = 0; output < hello.outputs; output++) {
    const report = (share: number) => onProgress?.((output + share) / hello.outputs, `Motor ${output + 1}`);
    report(0);
    try {
      escs.push(await surveyEsc(client, output, known, report));
    } catch (error) {
      if (!(error instanceof ProblemError) || client.isClosed) throw error;
      silent.push({output, problem: error.problem});
    }
  }
  onProgress?.(1, 'Done');
  return {at, adapter: hello.adapter, power, escs, silent, controller};
}

async function surveyEsc(
  client: BenchClient,
  output: number,
  known: ReadonlyMap<string, Hardware> | undefined,
  report: (share: number) => void,
): Promise<FoundEsc> {
  const boot = await client.request('esc.enter', {output});
  const chip = findChip(boot.chip);
  if (!chip)
    throw new ProblemError({
      code: 'unknown-chip',
      place: `motor ${output + 1}`,
      meaning: `Its chip calls itself ${boot.chip}, which Bidex does not know.`,
      remedy: 'It is left alone.',
    });
  const {application, settings, pageBytes} = chip;
  const block = readIdentity(await readFlash(client, output, application.start, identityBytes));
  const settingsPage = await readFlash(client, output, settings.start, pageBytes);
  const pageCrcs: number[] = [];
  const pages = pageCount(chip, application);
  for (let page = 0; page < pages; page++) {
    pageCrcs.push(await pageChecksum(client, chip, output, application.start + page * pageBytes));
    report(page / pages);
  }
  await client.request('esc.leave', {output});
  const identity = boot.applicationValid && block.ok ? block.value : undefined;
  const decoded = decodeSettings(settingsPage);
  return {
    output,
    boot,
    identity,
    hardware: identity ?? known?.get(boot.serial),
    settingsPage,
    settings: decoded.ok ? decoded.value : undefined,
    pageCrcs,
  };
}
