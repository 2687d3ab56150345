/** Waits until nothing locks what the flight controller is to be set to; the person unlocks it. */
import {poweredVolts} from '../../bench/battery';
import {readConfig} from '../../bench/controller-access';
import {controllerDifferences, controllerFieldName} from '../../controller/fields';
import {locksOn, lockWords} from '../../controller/locks';
import type {ControllerPlan} from '../../controller/plan';
import type {LockState} from '../../link/operations';
import {sleep} from '../../link/port';
import type {Step} from '../../order/steps';
import type {Progress, RunContext} from '../run-context';

export const lookEveryMs = 250;
/** ESCs start up and sound their tones before they answer again, ms. */
const startUpMs = 600;

export const waitsFor: Readonly<Record<LockState, NonNullable<Progress['waitsFor']>>> = {
  powered: 'battery-off',
  armed: 'disarm',
  connected: 'transmitter',
};

/** Resolves with whether the battery was taken off for it. */
export async function waitForUnlock(run: RunContext, step: Step, config: Partial<ControllerPlan>): Promise<boolean> {
  if (!run.client.can('locks.read')) return false;
  const wasOn = await isPowered(run);
  for (;;) {
    run.checkCancel();
    const now = await readConfig(run.client);
    const fields = controllerDifferences(now, {...now, ...config}).map((d) => d.field);
    const lock = locksOn(fields, await run.client.request('locks.read', null)).find((l) => l.held);
    if (!lock) return wasOn && !(await isPowered(run));
    const names = fields.filter((f) => locksOn([f], [lock]).length).map(controllerFieldName);
    const {why, unlock} = lockWords[lock.while];
    run.progress(step, 0.1, `${unlock}: ${names.join(', ')} ${names.length === 1 ? 'is' : 'are'} ${why}.`, {
      waitsFor: waitsFor[lock.while],
    });
    await sleep(run.host.clock, lookEveryMs);
  }
}

/** The battery that was taken off comes back before the next step needs it. */
export async function waitForBattery(run: RunContext, step: Step): Promise<void> {
  while (!(await isPowered(run))) {
    run.checkCancel();
    run.progress(step, 0.9, 'Set. Now connect the battery again.', {waitsFor: 'battery'});
    await sleep(run.host.clock, lookEveryMs);
  }
  await sleep(run.host.clock, startUpMs);
}

const isPowered = async (run: RunContext): Promise<boolean> =>
  (await run.client.request('power', null)).volts > poweredVolts;
