/** What the Spin station concludes from what a person saw. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {wantedDirections, type Craft} from '../../craft/craft';
import {foundAsPlanned} from '../../testing/found-as-planned';
import {sightingOf} from '../../testing/proof-of';
import {
  idleFromStarts,
  nextOutput,
  planFromSighting,
  sightingHolds,
  sightingRows,
  type Sighting,
  type SightingQuestion,
} from './sighting';
import {whatIsWrong} from '../verdict/what-is-wrong';
import {twoSides} from './two-sides';

const senses = wantedDirections(juniper);
const found = foundAsPlanned(juniper);
const seen = (output: number, over: Partial<Sighting> = {}): Sighting =>
  sightingOf(output, juniper, {rotationSetting: 0, startsAtUs: 1_030, coastDownS: 0.4, at: 1, ...over});
const question: SightingQuestion = {craft: juniper, found, replaced: {}};

describe('what was seen decides the plan', () => {
  it('another arm swaps the two outputs', () => {
    expect(planFromSighting(juniper, undefined, seen(0, {arm: 2})).arms).toEqual([2, 1, 0, 3]);
    expect(planFromSighting(juniper, undefined, seen(0)).arms).toEqual([0, 1, 2, 3]);
  });

  it('a wrong sense turns that ESC over, a right one keeps its setting', () => {
    const other = senses[0] === 'clockwise' ? ('counter-clockwise' as const) : ('clockwise' as const);
    expect(planFromSighting(juniper, undefined, seen(0, {sense: other})).rotation).toMatchObject({
      values: [1, 1, 1, 0],
    });
    expect(planFromSighting(juniper, undefined, seen(1, {rotationSetting: 0})).rotation).toMatchObject({
      values: [0, 0, 1, 0],
    });
  });

  it('an ESC that turns both ways, or was not read, has nothing to follow', () => {
    expect(planFromSighting(juniper, undefined, seen(0, {rotationSetting: 2})).rotation).toBeUndefined();
    expect(planFromSighting(juniper, undefined, seen(0, {rotationSetting: undefined})).rotation).toBeUndefined();
  });
});

describe('an ESC that turns both ways', () => {
  // A sighting of one stood after its throttle had been on the other side, and the motor turned the other way.
  const both = [0, 1, 2, 3].map((o) => seen(o, {rotationSetting: o === 1 ? 2 : 0}));

  it('was seen to turn one way, and has no sense that was proven', () => {
    expect(both.map((s) => sightingHolds(s, question))).toEqual([true, false, true, true]);
    expect(sightingRows(question, both).map((r) => r.senseWrong)).toEqual([false, true, false, false]);
    expect(nextOutput(question, both)).toBe(1);
    expect(twoSides(question, both)).toMatchObject({kind: 'not seen', motors: undefined});
  });

  it('is told as its setting, not as wires to be changed', () => {
    const rotation = (value: number) => ({...juniper.plan.parameters, rotation: {kind: 'same' as const, value}});
    const planned = (value: number): Craft => ({...juniper, plan: {...juniper.plan, parameters: rotation(value)}});
    const told = {what: expect.stringContaining('both ways'), side: 'rotation setting of the ESC'};
    expect(whatIsWrong(planned(0), found, both[1]!)).toEqual([{...told, planned: true}]);
    expect(whatIsWrong(planned(2), found, both[1]!)).toEqual([{...told, planned: false}]);
  });
});

describe('the next output', () => {
  const wrong = senses[0] === 'clockwise' ? ('counter-clockwise' as const) : ('clockwise' as const);
  const next = (...sightings: Sighting[]) => nextOutput(question, sightings);

  it('is one that nobody has seen, even while another waits to be looked at again', () => {
    expect(next()).toBe(0);
    expect(next(seen(0, {sense: wrong}))).toBe(1);
    expect(next(seen(0, {sense: wrong}), seen(1), seen(3))).toBe(2);
  });

  it('then one to look at again; the first when all are right', () => {
    const right = [0, 1, 2, 3].map((o) => seen(o));
    expect(next(...right)).toBe(0);
    expect(next(...right.map((s) => (s.output === 2 ? {...s, arm: 3} : s)))).toBe(2);
  });
});

describe('the idle', () => {
  it('is the highest start and 15 µs, once every motor was seen to start', () => {
    const all = [1_030, 1_041, 1_028, 1_035].map((startsAtUs, o) => seen(o, {startsAtUs}));
    // 1041 + 15 = 1056 µs: 5.6 % of the span from 1000 to 2000 µs.
    expect(idleFromStarts(all, 4)).toEqual({motor: 1, highestUs: 1_041, isBound: false, percent: 5.6, pulseUs: 1056});
    const often = [...all.slice(0, 3), seen(3, {startsUs: [1_040, 1_041, 1_042]})];
    // Three starts bound the next one: 1041 + 2.92 · 1.155 = 1044.4 µs, and 15 µs more.
    expect(idleFromStarts(often, 4)).toMatchObject({motor: 3, isBound: true, percent: 6});
    expect(idleFromStarts(all.slice(1), 4)).toBeUndefined();
    expect(idleFromStarts([...all.slice(1), seen(0, {startsAtUs: undefined})], 4)).toBeUndefined();
  });
});

describe('the list', () => {
  it('marks a wrong arm, a wrong sense, one that coasts long, and what was not seen', () => {
    const other = senses[2] === 'clockwise' ? ('counter-clockwise' as const) : ('clockwise' as const);
    const rows = sightingRows(question, [
      seen(0, {arm: 1, sense: senses[1]!}),
      seen(1, {coastDownS: 1.2}),
      seen(2, {sense: other}),
    ]);
    expect(rows.map((r) => [r.armWrong, r.senseWrong, r.coastsLong, r.seen !== undefined])).toEqual([
      [true, false, false, true],
      [false, false, true, true],
      [false, true, false, true],
      [false, false, false, false],
    ]);
    expect(rows.map((r) => r.wanted)).toEqual([senses[1], senses[1], senses[2], senses[3]]);
  });

  it('what was right and changed since is to be looked at again', () => {
    const rotation = found.escs[0]!.settings!.values.rotation!;
    const escs = found.escs.map((e) =>
      e.output === 0
        ? {...e, settings: {layout: 8 as const, values: {...e.settings!.values, rotation: 1 - rotation}}}
        : e,
    );
    const rows = sightingRows({...question, found: {...found, escs}}, [seen(0)]);
    expect(rows[0]!.changes).toEqual([expect.stringMatching(/^Rotation of motor 1 was .* and is /)]);
  });
});
