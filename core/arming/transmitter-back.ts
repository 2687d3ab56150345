/** The last step of a fail-safe's trial: the transmitter is on again, and nothing turns and nothing is armed by that. */
import type {BenchClient} from '../link/client';
import type {Report} from '../link/operations';
import {sleep, type Clock} from '../link/port';
import {ProblemError, type Problem} from '../problem';
import type {CancelSignal} from '../spin/hold/lease';
import {FrameReader} from './frame-reader';

export interface TransmitterBack {
  /** What the flight controller says; undefined where it cannot say. */
  readonly isDisarmed: boolean | undefined;
  /** Motors that turned when frames came again, counted from 0. */
  readonly turned: readonly number[];
}

/** Frames have to come for so long, ms, and are waited for so long. */
const [steadyMs, waitMs] = [600, 120_000];
const lookEveryMs = 50;

/** Rejects when cancelled, and when the transmitter stays off. */
export async function transmitterBack(
  client: BenchClient,
  {clock, cancel}: {readonly clock: Clock; readonly cancel: CancelSignal},
): Promise<TransmitterBack> {
  const reader = new FrameReader(client);
  await reader.read();
  await steadyFrames(reader, clock, cancel);
  const reports: Report[] = [];
  const stop = client.onReport((report) => reports.push(report));
  await client.request('reports', {on: true});
  await sleep(clock, steadyMs);
  stop();
  const motors = reports[0]?.motors ?? [];
  const turned = motors.flatMap((_, m) =>
    reports.some(({motors: all}) => (all[m]?.throttle ?? 0) > 0 || (all[m]?.erpm ?? 0) > 0) ? [m] : [],
  );
  const state = client.can('arming.state') ? await client.request('arming.state', null) : undefined;
  return {isDisarmed: state && !state.armed, turned};
}

async function steadyFrames(reader: FrameReader, clock: Clock, cancel: CancelSignal): Promise<void> {
  const began = clock.now();
  let since: number | undefined;
  for (;;) {
    if (cancel.aborted) throw new ProblemError(cancel.why ?? notWaited);
    const {frames} = await reader.read();
    if (!frames.length) since = undefined;
    else if (clock.now() - (since ??= clock.now()) >= steadyMs) return;
    if (clock.now() - began > waitMs) throw new ProblemError(staysOff);
    await sleep(clock, lookEveryMs);
  }
}

const problem = (code: string, meaning: string, remedy: string): Problem => ({
  ...{code, place: 'fail-safe trial', meaning, remedy},
});
const notWaited = problem(
  'not-waited',
  'The trial ended before the transmitter was on again, so nothing is proven.',
  'Hold again, and switch the transmitter on again at the end.',
);
const staysOff = problem(
  'stays-off',
  'The transmitter was not switched on again within two minutes, so nothing is proven.',
  'Switch it on, then hold again.',
);
