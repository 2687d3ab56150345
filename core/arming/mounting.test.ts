/** Rotations against scipy.spatial.transform (fixtures/make-mounting.py), and gestures of hands that are a little off. */
import {describe, expect, it} from 'vitest';
import reference from '../fixtures/mounting.json';
import type {Mounting} from '../controller/arming-fields';
import {uniform} from '../testing/known-flight';
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
        const found = findMounting(hand(m, n ? random : exact, n ? 10 : 0));
        if (found.kind !== 'found') throw new Error(`${i}: ${found.why}`);
        expect(angleBetween(matrixOf(found.mounting), m), `${i}, hand ${n}`).toBeLessThan(1e-3);
        expect(found.isRightAngled).toBe(true);
        if (!n) expect(found.offDeg).toBeLessThan(1e-3);
        expect(found.nextDeg).toBeGreaterThan(60);
      }
    });
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
