/** Accelerometer, receiver and the state of arming, as far as they can be seen without moving anything. */
import {canonicalJson} from '../canonical-json';
import {everyField, maxFrames, operations, type WireConfig} from '../link/operations';
import {gyroLoad} from '../link/task-load';
import {sleep} from '../link/port';
import {Broken, expectDone, expectRefusal, NotTried, type ConformanceRule, type Trial} from './adapter-rule';

/** Gravity as a sensor without calibration may read it, g. */
const [minG, maxG] = [0.75, 1.25];

async function framesFrom({link}: Trial, since: number) {
  const read = operations['receiver.frames'].result.safeParse(
    expectDone(await link.ask('receiver.frames', {since, most: maxFrames}), 'receiver.frames'),
  );
  if (!read.success) throw new Broken(`receiver.frames: ${read.error.issues[0]?.message ?? 'does not read'}.`);
  return read.data;
}

/** Another value for one of these fields, of those that can be tried without harm: nothing is saved. */
function changeOf({arms, failSafe}: WireConfig, locked: readonly string[]): Partial<WireConfig> | undefined {
  const isLocked = (field: string) => locked.includes(field) || locked.includes(everyField);
  if (isLocked('arms') && arms.length > 1) return {arms: [...arms.slice(1), arms[0]!]};
  if (isLocked('failSafe') && failSafe) return {failSafe: {...failSafe, afterMs: failSafe.afterMs === 500 ? 600 : 500}};
  return undefined;
}

export const cockpit: readonly ConformanceRule[] = [
  {
    id: 'attitude-at-rest',
    text: 'At rest the accelerometer reads about 1 g; one that is off is refused with off.',
    needs: ['attitude'],
    async try({link}) {
      const heard = await link.ask('attitude.read', null);
      if (heard.kind === 'refused' && (heard.value as {code?: unknown}).code === 'off')
        throw new NotTried('The accelerometer is off.');
      const read = operations['attitude.read'].result.safeParse(expectDone(heard, 'attitude.read'));
      if (!read.success) throw new Broken(`attitude.read: ${read.error.issues[0]?.message ?? 'does not read'}.`);
      const g = Math.hypot(...read.data.g);
      if (g < minG || g > maxG) throw new Broken(`At rest it reads ${g.toFixed(2)} g.`);
    },
  },
  {
    id: 'frames-once',
    text: 'Frames are numbered in the order they came: asked from the number after the last, none comes twice, and times rise.',
    needs: ['receiver'],
    async try(trial) {
      const {from} = await framesFrom(trial, 0xffffffff);
      await sleep(trial.link.clock, 120);
      const first = await framesFrom(trial, from);
      if (!first.frames.length) throw new NotTried('No frame comes: the transmitter is off.');
      await sleep(trial.link.clock, 60);
      const second = await framesFrom(trial, first.from + first.frames.length);
      const times = [...first.frames, ...second.frames].map((f) => f.atMs);
      const at = times.findIndex((t, i) => i > 0 && t <= times[i - 1]!);
      if (at > 0)
        throw new Broken(
          `The frame at ${times[at]!.toFixed(0)} ms comes after the one at ${times[at - 1]!.toFixed(0)} ms.`,
        );
    },
  },
  {
    id: 'locks-refuse',
    text: 'A field whose lock is held cannot be set: refused with locked, and nothing is changed.',
    needs: ['locks', 'controller'],
    async try({link}) {
      const read = operations['locks.read'].result.safeParse(
        expectDone(await link.ask('locks.read', null), 'locks.read'),
      );
      if (!read.success) throw new Broken(`locks.read: ${read.error.issues[0]?.message ?? 'does not read'}.`);
      const locked = read.data.flatMap((lock) => (lock.held ? lock.fields : []));
      const config = expectDone(await link.ask('controller.read', null), 'controller.read') as WireConfig;
      const change = changeOf(config, locked);
      if (!change) throw new NotTried('Nothing that could be changed is locked now.');
      expectRefusal(await link.ask('controller.set', change), 'controller.set of a locked field', 'locked');
      const now = expectDone(await link.ask('controller.read', null), 'controller.read');
      if (canonicalJson(now) !== canonicalJson(config)) throw new Broken('It refused, and set it all the same.');
    },
  },
  {
    id: 'tasks-add-up',
    text: 'The parts of the gyro task add up to the load in a report, within a tenth of it.',
    needs: ['tasks', 'reports'],
    async try({link}) {
      const read = operations['tasks.read'].result.safeParse(
        expectDone(await link.ask('tasks.read', null), 'tasks.read'),
      );
      if (!read.success) throw new Broken(`tasks.read: ${read.error.issues[0]?.message ?? 'does not read'}.`);
      const sum = gyroLoad(read.data);
      expectDone(await link.ask('reports', {on: true}), 'reports on');
      await sleep(link.clock, 450);
      const load = link.reports.at(-1)?.report.load;
      if (load === undefined) throw new Broken('No report came.');
      if (Math.abs(sum - load) > 0.1 * load)
        throw new Broken(
          `Its tasks add up to ${(sum * 100).toFixed(0)} %, a report says ${(load * 100).toFixed(0)} %.`,
        );
    },
  },
  {
    id: 'disarmed-while-held',
    text: 'While a client is connected the craft is disarmed, and held is among what keeps it so.',
    needs: ['arming'],
    async try({link}) {
      const state = expectDone(await link.ask('arming.state', null), 'arming.state') as {
        armed?: unknown;
        blocks?: unknown;
      };
      if (state.armed !== false) throw new Broken('It says that it is armed.');
      if (!Array.isArray(state.blocks) || !state.blocks.includes('held'))
        throw new Broken('"held" is not among its blocks.');
    },
  },
];
