/** A card of every motor of a craft, under one hold, with what it says. */
import type {Found} from '../../bench/found';
import type {Craft} from '../../craft/craft';
import type {BenchClient} from '../../link/client';
import {reportOn} from '../../motion/report';
import type {MotionMeasure} from '../verdict/motion-proof';
import {knownTimings} from '../verdict/known-timings';
import {runScript, type Recording, type ScriptOptions} from './run-script';
import {everyCard, scriptRun} from './script-run';

type CardOptions = Pick<ScriptOptions, 'clock' | 'cancel' | 'onProgress'> & {
  readonly craft: Craft;
  readonly found: Found | undefined;
};

/** Rejects only where nothing could be recorded; what ended it early is told. */
export async function runEveryCard(
  client: BenchClient,
  {craft, found, ...held}: CardOptions,
): Promise<Recording & MotionMeasure> {
  const recording = await runScript(client, {...scriptRun(everyCard, craft, found), ...held});
  const report = reportOn(recording.trace, {poles: craft.motor.poles, timings: knownTimings(craft, found)});
  return {...recording, report};
}
