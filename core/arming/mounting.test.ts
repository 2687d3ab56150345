/** Rotations against scipy.spatial.transform (fixtures/make-mounting.py), and gestures of hands that are a little off. */
import {describe, expect, it} from 'vitest';
import {Hand} from '@simulator/hardware/hands/hand';
import {Random} from '@simulator/random';
import reference from '../fixtures/mounting.json';
import type {Mounting} from '../controller/arming-fields';
import {uniform} from '../testing/known-flight';
import {judgeMounting} from './arming-proofs';
import {findMounting, type Gestures} from './mounting';
import {
  angleBetween,
  matrixOf,
  mountingOf,
  product,
  quaternionOf,
  rightAngled,
  transposed,
  turned,
  unit,
  type Matrix,
  type Vector,
} from './rotation';

const near = (ours: readonly number[], theirs: readonly number[], digits = 9) =>
  theirs.forEach((v, i) => expect(ours[i], `element ${i}`).toBeCloseTo(v, digits));

describe('against scipy', () => {
  it('matrices, products, turned vectors and angles between', () => {
    for (const c of reference.cases) {
      const m = matrixOf(c);
      near(m.flat(), c.matrix.flat());
      near(turned(m, c.vector as unknown as Vector), c.turned);
      near(product(m, c.other as unknown as Matrix).flat(), c.product.flat());
      expect(angleBetween(m, c.other as unknown as Matrix)).toBeCloseTo(c.angle, 5);
    }
  });

  it('quaternions, up to their sign where the turn is half a circle', () => {
    for (const c of reference.cases) {
      const ours = quaternionOf(matrixOf(c));
      const sign = Math.sign(ours.reduce((s, v, i) => s + v * c.quaternion[i]!, 0));
      if (c.quaternion[0]! > 1e-6) expect(sign).toBe(1);
      near(
        ours,
        c.quaternion.map((v) => sign * v),
        7,
      );
    }
  });

  it('the 24 by right angles are the group of the cube', () => {
    const names = (all: readonly (readonly (readonly number[])[])[]) =>
      new Set(all.map((m) => JSON.stringify(m.map((r) => r.map((v) => v + 0)))));
    expect(rightAngled).toHaveLength(24);
    expect(names(rightAngled)).toEqual(names(reference.group));
  });
});

it('angles come back as the same rotation, in their range', () => {
  for (const c of reference.cases) {
    const m = matrixOf(c);
    const back = mountingOf(m);
    expect(angleBetween(m, matrixOf(back))).toBeLessThan(1e-3);
    for (const deg of [back.roll, back.yaw]) expect(deg > -180 && deg <= 180).toBe(true);
    expect(Math.abs(back.pitch)).toBeLessThanOrEqual(90);
  }
  expect(() => unit([0, 0, 0])).toThrow(RangeError);
});

/** What a board in this mounting reads while the craft is held so: gravity in the craft's axes, turned into the board's. */
const reading = (mounting: Matrix, held: Mounting, noise: () => number): Vector => {
  const gravity = turned(transposed(matrixOf(held)), [0, 0, 1]);
  return turned(transposed(mounting), gravity).map((v) => -v + noise()) as unknown as Vector;
};

/** A hand that tilts by 30 to 65°, off by up to `wrong` degrees about every other axis. */
function hand(mounting: Matrix, random: () => number, wrong: number): Gestures {
  const off = () => (2 * random() - 1) * wrong;
  const noise = () => (random() - 0.5) * 0.03;
  const tilt = () => 30 + 35 * random();
  return {
    level: reading(mounting, {roll: off() / 3, pitch: off() / 3, yaw: 0}, noise),
    noseDown: reading(mounting, {roll: off(), pitch: -tilt(), yaw: 0}, noise),
    rightDown: reading(mounting, {roll: tilt(), pitch: off(), yaw: 0}, noise),
  };
}
const exact = () => 0.5;

describe('the mounting', () => {
  it('each of the 24 is found by an exact hand, and by 500 hands that are a little off', () => {
    const random = uniform(24);
    rightAngled.forEach((m, i) => {
      for (let n = 0; n < 500; n++) {
        const found = findMounting(hand(m, n ? random : exact, n ? 4 : 0));
        if (found.kind !== 'found') throw new Error(`${i}: ${found.why}`);
        expect(angleBetween(matrixOf(found.mounting), m), `${i}, hand ${n}`).toBeLessThan(1e-3);
        expect(found.isRightAngled).toBe(true);
        if (!n) expect(found.offDeg).toBeLessThan(1e-3);
        expect(found.nextDeg).toBeGreaterThan(60);
      }
    });
  });

  it('within 5° of a right angle it is that one; beyond, and beyond what a hand is off, it is told as measured', () => {
    for (const yaw of [2, 4, 10, 18, -18, 30, 45]) {
      const found = findMounting(hand(matrixOf({roll: 0, pitch: 0, yaw}), exact, 0));
      const isRightAngled = Math.abs(yaw) <= 5;
      expect(found).toMatchObject({
        kind: 'found',
        isRightAngled,
        mounting: {roll: 0, pitch: 0, yaw: isRightAngled ? 0 : yaw},
      });
    }
    // On its edge and turned by 18°, and one that leans by 12°.
    for (const m of [
      product(matrixOf({roll: 0, pitch: 0, yaw: 18}), matrixOf({roll: 90, pitch: 0, yaw: 0})),
      matrixOf({roll: 0, pitch: 12, yaw: 90}),
    ]) {
      const found = findMounting(hand(m, exact, 0));
      if (found.kind !== 'found') throw new Error(found.why);
      expect(found.isRightAngled).toBe(false);
      expect(angleBetween(matrixOf(found.mounting), m)).toBeLessThan(1);
    }
  });

  it('the bound holds for hands that are off by up to 4°, at every angle; a plan beside it is not proven', () => {
    const random = uniform(18);
    let [within, all] = [0, 0];
    for (let n = 0; n < 2000; n++) {
      const yaw = Math.round(-180 + 360 * random());
      const set = {roll: random() < 0.5 ? 180 : 0, pitch: 0, yaw};
      const found = findMounting(hand(matrixOf(set), random, 4));
      if (found.kind !== 'found') throw new Error(found.why);
      all++;
      const limit = Math.max(5, found.boundDeg) + 1;
      if (angleBetween(matrixOf(found.mounting), matrixOf(set)) <= limit) within++;
      const beside = {...set, yaw: yaw + 25};
      expect(judgeMounting(found, beside).holds, JSON.stringify({set, found})).toBe(false);
    }
    expect(within / all).toBeGreaterThan(0.97);
  });

  it('an accelerometer without calibration makes no flat board a leaning one', () => {
    for (let n = 0; n < 1000; n++) {
      const random = new Random(n);
      const held = new Hand(random, {roll: 0, pitch: 0, yaw: 270});
      // 40 mg, whichever way, in the board's own axes.
      const angle = 2 * Math.PI * random.next();
      const reading = (pose: 'level' | 'nose down' | 'right side down', atMs: number): Vector => {
        held.pose(pose, atMs);
        // The watch of gestures takes the mean of what is held still.
        const still = Array.from({length: 20}, (_, i) => held.acceleration(atMs + 600 + 10 * i));
        const [x, y, z] = [0, 1, 2].map((axis) => still.reduce((all, g) => all + g[axis]!, 0) / still.length);
        return [x! + 0.04 * Math.cos(angle), y! + 0.04 * Math.sin(angle), z!];
      };
      const level = reading('level', 0);
      const found = findMounting({
        level,
        noseDown: reading('nose down', 1000),
        rightDown: reading('right side down', 2000),
      });
      expect(found).toMatchObject({kind: 'found', mounting: {roll: 0, pitch: 0}});
    }
  });

  it('a board turned by 18° is never proven as straight', () => {
    const random = uniform(19);
    for (let n = 0; n < 500; n++) {
      const found = findMounting(hand(matrixOf({roll: 0, pitch: 0, yaw: 18}), random, 4));
      if (found.kind !== 'found') throw new Error(found.why);
      expect(judgeMounting(found, {roll: 0, pitch: 0, yaw: 0}).holds).toBe(false);
      expect(judgeMounting(found, {roll: 0, pitch: 0, yaw: 18}).holds).toBe(true);
    }
  });

  it('a board that lies flat, turned freely, is found within what the hand is off', () => {
    const random = uniform(7);
    for (const roll of [0, 180])
      for (const yaw of [30, 45, -60, 130, -150]) {
        const m = matrixOf({roll, pitch: 0, yaw});
        const sure = findMounting(hand(m, exact, 0));
        expect(sure).toMatchObject({kind: 'found', isRightAngled: false, mounting: {roll, pitch: 0, yaw}});
        const found = findMounting(hand(m, random, 4));
        if (found.kind !== 'found') throw new Error(found.why);
        expect(angleBetween(matrixOf(found.mounting), m)).toBeLessThan(8);
      }
  });

  it('says what went wrong, and never tells a mounting then', () => {
    const m = matrixOf({roll: 0, pitch: 0, yaw: -90});
    const good = hand(m, exact, 0);
    const why = (g: Partial<Gestures>) => {
      const found = findMounting({...good, ...g});
      return found.kind === 'unclear' ? found.why : 'found';
    };
    const none = () => 0;
    expect(why({level: [0, 0, -1.6]})).toContain('read 1.60 g');
    expect(why({noseDown: reading(m, {roll: 0, pitch: -8, yaw: 0}, none)})).toContain('tilted by 8° only');
    expect(why({rightDown: good.noseDown})).toContain('Both tilts went the same way');
    expect(why({rightDown: reading(m, {roll: -45, pitch: 0, yaw: 0}, none)})).toContain('went the other way');
    expect(why({noseDown: good.rightDown, rightDown: good.noseDown})).toContain('went the other way');
    const tilted = matrixOf({roll: 40, pitch: 0, yaw: 20});
    const found = findMounting(hand(tilted, exact, 0));
    expect(found.kind === 'unclear' && found.why).toContain('which no mounting has');
  });

  it('Bramble’s, turned by 270°', () => {
    expect(findMounting(hand(matrixOf({roll: 0, pitch: 0, yaw: 270}), exact, 0))).toMatchObject({
      mounting: {roll: 0, pitch: 0, yaw: -90},
    });
  });
});
