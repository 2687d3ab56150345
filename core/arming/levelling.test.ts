/** Levelling: the mean at rest, what it should be by the mounting, offsets that take the rest off, on the simulated bench. */
import {describe, expect, it} from 'vitest';
import {usualCockpit} from '@simulator/hardware/hands/cockpit';
import {Harness} from '@simulator/testing/bench-harness';
import type {Mounting} from '../controller/arming-fields';
import {offsetEdits, offsetsIn} from '../controller/settings/level-offsets';
import {describeSettings} from '@simulator/hardware/controller/held-settings';
import {writeSettings} from '../controller/settings/board-settings';
import {sleep} from '../link/port';
import {canBeTakenOff, judgeLevel, leftOver, RestWatch, type LevelMeasure} from './levelling';
import type {Vector} from './rotation';

const flat: Mounting = {roll: 0, pitch: 0, yaw: 0};
const entries = describeSettings('2.2');
type Pose = 'on the bench' | 'level';

function benchOf(biasG: Vector, mounted = flat, seed = 3): Harness {
  return new Harness({seed, setup: (first) => ({...first, cockpit: {...usualCockpit, mounted, biasG}})});
}

/** What is measured in six seconds; undefined where the craft never rested. */
async function rested(h: Harness, pose: Pose): Promise<LevelMeasure | undefined> {
  const watch = new RestWatch();
  h.bench.cockpit.hand.pose(pose, h.time.now());
  await h.run(
    (async () => {
      await sleep(h.time, 700);
      for (let left = 100; left > 0 && !watch.result; left--) {
        const {atMs, g} = await h.client.request('attitude.read', null);
        watch.feed(atMs, g);
        await sleep(h.time, 60);
      }
    })(),
  );
  return watch.result;
}

/** A reading that is the same each time. */
const still = (g: Vector): LevelMeasure => ({mean: g, readings: 40, errorG: 0.001});
const radians = Math.PI / 180;

describe('levelling', () => {
  it('tells the tilt by the mounting: a nose down by 2° is 2°, whatever way the board is turned', () => {
    // Up in the craft's axes with the nose 2° down: backwards, by the sine (any text on flight dynamics).
    const [s, c] = [Math.sin(2 * radians), Math.cos(2 * radians)];
    const boards: readonly [Mounting, Vector][] = [
      [flat, [-s, 0, -c]],
      [{...flat, yaw: 90}, [0, s, -c]],
      [{...flat, yaw: 180}, [s, 0, -c]],
      [{...flat, roll: 180}, [-s, 0, c]],
    ];
    for (const [mounting, g] of boards)
      expect(judgeLevel(still(g), mounting)).toMatchObject({holds: false, text: expect.stringContaining('2.00°')});
  });
  it('takes what reads 1 g straight up for level, and no other length of it', () => {
    expect(judgeLevel(still([0.005, -0.005, -1]), flat).holds).toBe(true);
    expect(judgeLevel(still([0, 0, -1.05]), flat)).toMatchObject({
      holds: false,
      text: expect.stringContaining('not 1 g'),
    });
    expect(judgeLevel(still([0, 0.3, -0.95]), flat).text).toContain(
      'the bench is not level, or the board is mounted otherwise',
    );
  });
  it('waits for rest: a hand that trembles and a knock begin it again', () => {
    const watch = new RestWatch();
    const feed = (from: number, to: number, g: Vector) => {
      for (let ms = from; ms < to; ms += 50) watch.feed(ms, g);
    };
    feed(0, 1500, [0, 0, -1]);
    feed(1500, 1600, [0.2, 0, -1]);
    feed(1600, 3500, [0, 0, -1]);
    expect([watch.result, watch.share < 1]).toEqual([undefined, true]);
    feed(3500, 3800, [0, 0, -1]);
    expect(watch.result?.mean).toEqual([0, 0, -1]);
  });

  it.each([
    {biasG: [0.024, -0.031, 0.012], mounted: flat},
    {biasG: [-0.05, 0.04, -0.02], mounted: {...flat, yaw: 90}},
    {biasG: [0.06, 0.02, 0.03], mounted: {...flat, roll: 180, yaw: 45}},
  ] as const)(
    'offsets take off what a board measures too much: $biasG, turned by $mounted.yaw',
    async ({biasG, mounted}) => {
      const h = benchOf(biasG, mounted);
      const first = (await rested(h, 'on the bench'))!;
      expect([judgeLevel(first, mounted).holds, canBeTakenOff(first, mounted)]).toEqual([false, true]);
      const over = leftOver(first, mounted);
      // The truth of the bench, within four standard errors.
      biasG.forEach((bias, axis) => expect(Math.abs(over[axis]! - bias)).toBeLessThan(4 * first.errorG));
      const edits = offsetEdits(entries, over);
      const lines = Object.entries(edits).map(([key, value]) => ({key, value: value!}));
      await h.run(writeSettings(h.client, lines));
      await h.run(h.client.request('settings.save', null));
      h.bench.restartController();
      await h.run(sleep(h.time, 3000));
      h.connect();
      await h.run(h.client.hello());
      const second = (await rested(h, 'on the bench'))!;
      expect(judgeLevel(second, mounted)).toMatchObject({
        holds: true,
        text: expect.stringMatching(/Gravity reads (0\.99|1\.00)\d g/),
      });
    },
  );
  it('of a craft that is held in a hand is never called level by its bias alone', async () => {
    for (const seed of [1, 2, 3, 4]) {
      const h = benchOf([0, 0, 0], flat, seed);
      const measure = await rested(h, 'level');
      const {roll, pitch} = h.bench.cockpit.hand.angles(h.time.now());
      const isLevel = measure && judgeLevel(measure, flat).holds;
      if (Math.hypot(roll, pitch) > 1) expect(isLevel ?? false).toBe(false);
    }
  });
  it('offsets are read in mg, and only where the firmware describes all three', () => {
    expect(offsetsIn(entries, {'level.offset_x': 12, 'level.offset_y': -3})).toEqual([0.012, -0.003, 0]);
    expect(
      offsetsIn(
        entries.filter((e) => e.key !== 'level.offset_z'),
        {},
      ),
    ).toBeUndefined();
    expect(offsetEdits(entries, [9, -0.0004, 0.0126])).toEqual({
      ...{'level.offset_x': 2000, 'level.offset_y': 0, 'level.offset_z': 13},
    });
  });
});
