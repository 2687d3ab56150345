/** Loads replies for as long as a person holds: ramps and steps of all motors from idle to the cap, counted report by report. */
import type {BenchClient} from '../../link/client';
import type {Report} from '../../link/operations';
import {sleep} from '../../link/port';
import type {Problem} from '../../problem';
import type {ReplyQuality} from '../../replies/reply-quality';
import {ReplyTally, type TallyQuestion} from '../../replies/reply-tally';
import {followScript, type ScriptOptions} from '../script/run-script';
import {durationOf, eachAlone, stress, type Script, type Segment} from '../script/script';

/** Lengths that can be chosen, s: a look, and soaks. */
export const stressLengths = [10, 60, 120, 300] as const;
/** Runs this long or longer are soaks. */
const soakFrom = 60;

/** Time that each motor turns alone, s: a twentieth of the run, within these. */
const aloneS = {least: 0.5, most: 2};

/** So many seconds: first each motor alone, so that what all of them do together shows, then ramps and steps of all. */
export function stressScript(idle: number, top: number, seconds: number, motors: number): Script {
  const each = Math.max(aloneS.least, Math.min(aloneS.most, seconds / 20));
  const alone = eachAlone(idle, top, {seconds: each, motors});
  const once = durationOf(stress(idle, top, 1));
  const together = stress(idle, top, Math.ceil(seconds / once));
  const segments = cutAt([...alone.segments, ...together.segments], seconds);
  return {segments, name: seconds < soakFrom ? 'stress' : 'soak'};
}

/** When all motors are first held at the top together, s after the script began; undefined where they never are. */
export function fullLoadS({segments}: Script): number | undefined {
  const together = segments.map(({alone, from, to}) => (alone === undefined && from === to ? from : 0));
  const first = together.indexOf(Math.max(...together));
  return together[first] ? durationOf({name: '', segments: segments.slice(0, first)}) : undefined;
}

/** The segments up to a time, the last one cut short. */
function cutAt(segments: readonly Segment[], seconds: number): Segment[] {
  const kept: Segment[] = [];
  let left = seconds;
  for (const s of segments) {
    if (left <= 0) break;
    const share = Math.min(1, left / s.seconds);
    kept.push({...s, seconds: s.seconds * share, to: s.from + (s.to - s.from) * share});
    left -= s.seconds;
  }
  return kept;
}

interface StressOptions extends Omit<ScriptOptions, 'allOutputs' | 'poles' | 'outputs' | 'onReading' | 'wantedHz'> {
  readonly question: TallyQuestion;
  /** What was counted so far, now and then. */
  readonly onCounted?: (quality: ReplyQuality) => void;
  /** All motors have come to the top together, for the first time. */
  readonly onFullLoad?: (() => void) | undefined;
}

interface StressRun {
  readonly quality: ReplyQuality;
  /** What ended it before its time; what was counted until then stands. */
  readonly endedBy: Problem | undefined;
}

/** How often what was counted is told, reports. */
const tellEvery = 10;
/** Time that is waited for a first report, ms. */
const firstReportMs = 1000;

/** What hears of the script's progress, and tells once when its motors have come to the top. */
function withFullLoad({script, onProgress, onFullLoad}: StressOptions): NonNullable<StressOptions['onProgress']> {
  const dueShare = (fullLoadS(script) ?? Infinity) / durationOf(script);
  let isTold = false;
  return (share, throttle) => {
    onProgress?.(share, throttle);
    if (isTold || share < dueShare) return;
    isTold = true;
    onFullLoad?.();
  };
}

export async function stressReplies(client: BenchClient, o: StressOptions): Promise<StressRun> {
  await client.hello();
  const tally = new ReplyTally(o.question);
  let [heard, cut] = [0, undefined as Problem | undefined];
  const off = client.onReport((report: Report) => {
    tally.hear(report);
    if (++heard % tellEvery === 0) o.onCounted?.(tally.quality());
    cut ??= o.guard?.hear(report);
  });
  try {
    await client.request('reports', {on: true});
    // Counting begins at a report that came before the motors were commanded.
    for (const began = o.clock.now(); heard === 0 && o.clock.now() - began < firstReportMs;) await sleep(o.clock, 20);
    const outputs = Array.from({length: o.question.outputs}, (_, i) => i);
    const onProgress = withFullLoad(o);
    const endedBy = await followScript(client, {...o, outputs, onProgress}, () => cut);
    return {quality: tally.quality(), endedBy};
  } finally {
    off();
  }
}
