/** Runs a script under one hold and records it: a burst where the controller can, reports where not. */
import type {BenchClient} from '../../link/client';
import {readBurst} from '../../link/burst';
import type {Report} from '../../link/operations';
import {sleep, type Clock} from '../../link/port';
import {rpmOfErpm} from '../../dshot/reply';
import {traceOfBurst, type SpinTrace} from '../../motion/trace';
import {ProblemError, type Problem} from '../../problem';
import type {AloneState} from '../../replies/replies';
import {heldWait, rest, turnEachAlone} from '../replies/each-alone';
import {SpinLease, type CancelSignal} from '../hold/lease';
import type {MotionGuard} from '../hold/motion-guard';
import {commandAt, durationOf, type Script} from './script';

interface ScriptQuestion {
  readonly script: Script;
  /** Outputs that are turned; the others stand. */
  readonly outputs: readonly number[];
  /** Outputs that the controller has. */
  readonly allOutputs: number;
  readonly poles: number;
  /** Rate that is wished for, Hz; less where the memory asks for it. */
  readonly wantedHz?: number;
  /** Each motor turns alone first, at this throttle, 0…1: whose reply is whose. Not where it is left out. */
  readonly aloneAt?: number | undefined;
}

export interface ScriptOptions extends ScriptQuestion {
  readonly clock: Clock;
  /** Letting go ends it. */
  readonly cancel: CancelSignal;
  /** Cuts the motors where their reports say so. */
  readonly guard?: MotionGuard;
  /** Share of the script that has run, and the throttle now. */
  readonly onProgress?: (share: number, throttle: number) => void;
  /** Output that is driven alone now, before the script. */
  readonly onAlone?: (output: number) => void;
  /** Share of the burst that has been read. */
  readonly onReading?: (share: number) => void;
}

export interface Recording {
  readonly trace: SpinTrace;
  /** Rows a second. */
  readonly rateHz: number;
  readonly source: 'burst' | 'reports';
  /** What ended it before the end of the script; what was recorded until then is in the trace. */
  readonly endedBy: Problem | undefined;
  /** What replies said while each motor was driven alone; undefined where none was. */
  readonly alone: readonly AloneState[] | undefined;
}

/** How often the throttle is set while it changes, ms. */
const setEveryMs = 10;
/** Time that is recorded beyond the script, s: the coast-down. */
const afterS = 0.6;
const usualHz = 2000;

/**
 * Holds the motors through the script. What ends the hold early is told in the recording, since the trace until then is what
 * explains it; rejects only when nothing could be recorded.
 */
export async function runScript(client: BenchClient, o: ScriptOptions): Promise<Recording> {
  await client.hello();
  const alone = o.aloneAt === undefined ? undefined : await aloneFirst(client, o, o.aloneAt);
  const recorder = client.can('burst.start') ? await burstOf(client, o) : await reportsOf(client, o);
  try {
    const endedBy = await guarded(client, o);
    return {...(await recorder.finish()), endedBy, alone};
  } finally {
    recorder.end();
  }
}

/** Each motor alone, and then all at rest, so that what is recorded begins there. */
async function aloneFirst(client: BenchClient, o: ScriptOptions, throttle: number): Promise<AloneState[]> {
  const outputs = o.outputs.length;
  const reports: Report[] = [];
  let lost: ProblemError | undefined;
  await client.request('reports', {on: true});
  const off = client.onReport((report) => {
    reports.push(report);
    const cut = o.guard?.hearCurrent(report);
    if (cut) lost ??= new ProblemError(cut);
  });
  const lease = new SpinLease(client, o.clock, (error) => (lost ??= error));
  const wait = heldWait({clock: o.clock, cancel: o.cancel, lost: () => lost, letGo});
  try {
    const sights = await turnEachAlone(
      {reports, lease, wait},
      {outputs, throttle, onMotor: (motor) => o.onAlone?.(motor)},
    );
    await rest({reports, lease, wait}, outputs);
    return sights;
  } finally {
    off();
    await lease.stop();
  }
}

/** Turns the motors; resolves with what ended it early. */
async function guarded(client: BenchClient, o: ScriptOptions): Promise<Problem | undefined> {
  if (!o.guard) return followScript(client, o, () => undefined);
  let cut: Problem | undefined;
  await client.request('reports', {on: true});
  const off = client.onReport((report) => (cut ??= o.guard!.hear(report)));
  try {
    return await followScript(client, o, () => cut);
  } finally {
    off();
  }
}

/** Follows the script until it ends, is let go or cut; resolves with what ended it early. */
export async function followScript(
  client: BenchClient,
  {script, outputs, clock, cancel, onProgress}: Omit<ScriptOptions, 'allOutputs' | 'poles'>,
  cutBy: () => Problem | undefined,
): Promise<Problem | undefined> {
  let lost: Problem | undefined;
  const lease = new SpinLease(client, clock, ({problem}) => (lost = problem));
  const totalS = durationOf(script);
  try {
    let commanded = '';
    let began: number | undefined;
    for (;;) {
      const why = lost ?? cutBy();
      if (why) return why;
      if (cancel.aborted) return cancel.why ?? letGo;
      // The script's time begins when the hardware has taken the hold.
      if (lease.isBegun) began ??= clock.now();
      const atS = began === undefined ? 0 : (clock.now() - began) / 1000;
      if (atS >= totalS) return undefined;
      const {throttle, alone} = commandAt(script, atS);
      const command = `${throttle} ${alone}`;
      const turns = (output: number) => alone === undefined || alone === output;
      if (command !== commanded) lease.set(outputs.map((output) => ({output, throttle: turns(output) ? throttle : 0})));
      commanded = command;
      onProgress?.(atS / totalS, throttle);
      await sleep(clock, setEveryMs);
    }
  } finally {
    await lease.stop();
  }
}

interface Recorder {
  finish(): Promise<Omit<Recording, 'endedBy' | 'alone'>>;
  end(): void;
}

/** Rows a second that the memory allows for the script and what follows it. */
export function burstHz(
  seconds: number,
  {memoryRows, mostHz}: {readonly memoryRows: number; readonly mostHz: number},
  wantedHz: number,
): number {
  const least = Math.min(wantedHz, memoryRows / seconds);
  return mostHz / Math.ceil(mostHz / least);
}

async function burstOf(client: BenchClient, o: ScriptOptions): Promise<Recorder> {
  const seconds = durationOf(o.script) + afterS + beginsWithinS;
  const memory = await client.request('burst.state', null);
  const rateHz = burstHz(seconds, memory, o.wantedHz ?? usualHz);
  const started = await client.request('burst.start', {
    rateHz,
    rows: Math.min(memory.memoryRows, Math.ceil(seconds * rateHz)),
  });
  return {
    async finish() {
      await sleep(o.clock, afterS * 1000);
      const read = await readBurst(client, {outputs: o.allOutputs, ...(o.onReading && {onProgress: o.onReading})});
      return {trace: traceOfBurst(read, o.poles), rateHz: started.rateHz, source: 'burst'};
    },
    end: () => undefined,
  };
}

/** Time a hold may take to begin, s: it is recorded too. */
const beginsWithinS = 0.3;

async function reportsOf(client: BenchClient, {allOutputs, poles, clock}: ScriptOptions): Promise<Recorder> {
  const reports: Report[] = [];
  const off = client.onReport((report) => reports.push(report));
  await client.request('reports', {on: true});
  return {
    async finish() {
      await sleep(clock, afterS * 1000);
      const origin = reports[0]?.atMs ?? 0;
      const column = (read: (report: Report) => number) => Float64Array.from(reports, read);
      const motors = Array.from({length: allOutputs}, (_, m) => ({
        throttle: column((r) => r.motors[m]?.throttle ?? 0),
        rpm: column((r) => rpmOfErpm(r.motors[m]?.erpm ?? NaN, poles)),
        amps: undefined,
      }));
      const timeS = column((r) => (r.atMs - origin) / 1000);
      const lasts = timeS.at(-1) ?? 0;
      return {
        trace: {timeS, volts: column((r) => r.power.volts), motors, notes: []},
        rateHz: lasts > 0 ? (timeS.length - 1) / lasts : 0,
        source: 'reports',
      };
    },
    end: off,
  };
}

const letGo: Problem = {
  code: 'let-go',
  place: 'script',
  meaning: 'The button was let go before the script had ended.',
  remedy: 'Hold until it says done.',
};
