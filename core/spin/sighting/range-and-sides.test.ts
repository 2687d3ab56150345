/** Ends of analog throttle, and whether motors and flight controller agree on the sense. */
import {describe, expect, it} from 'vitest';
import {alder} from '@demo/craft/alder';
import {juniper} from '@demo/craft/juniper';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import {surveyController} from '../../bench/survey';
import type {Found} from '../../bench/found';
import {wantedDirections} from '../../craft/craft';
import {sleep} from '../../link/port';
import type {Sighting} from './sighting';
import {definitionOf} from '../../settings/definitions';
import {throttleRange} from './throttle-range';
import {mixerOf} from '../../craft/mixer';
import {foundAsPlanned} from '../../testing/found-as-planned';
import {sightingOf} from '../../testing/proof-of';
import {twoSides} from './two-sides';

const ends = (...pairs: readonly [number, number][]): Found =>
  ({
    escs: pairs.map(([throttleMin, throttleMax], output) => ({
      output,
      settings: {layout: 6, values: {throttleMin, throttleMax}},
    })),
  }) as unknown as Found;
const words = (found: Found) => throttleRange(found, found.escs.length).remarks.map((r) => r.word);

describe('the throttle range', () => {
  it.each([
    [
      'calibrated ends a few µs apart (common practice: up to about 10)',
      ends([1020, 1983], [1024, 1976], [1017, 1980]),
      ['expected spread'],
    ],
    ['equal ends were typed, which is a way of its own', ends([1050, 1950], [1050, 1950]), ['hand-set']],
    ['calibrated apart', ends([1020, 1980], [1048, 1980]), ['too far apart']],
    [
      'a receiver that does not reach the ends',
      ends([1044, 1862], [1040, 1866]),
      ['expected spread', 'ends not reached'],
    ],
    ['a narrow range', ends([1090, 1850], [1091, 1851]), ['expected spread', 'ends not reached', 'narrow']],
  ])('%s', (_, found, expected) => expect(words(found)).toEqual(expected));

  it('typed ends say what of the travel does nothing, where that is more than calibration leaves', () => {
    const text = (min: number, max: number) =>
      throttleRange(ends([min, max], [min, max]), 2).remarks.find((r) => r.word === 'hand-set')?.text;
    expect(text(1050, 1950)).toContain('the first 50 and the last 50 µs do nothing');
    expect(text(1020, 1980)).not.toContain('do nothing');
  });

  it('allows high ends twice the spread of low ones, as the comparison with the plan does: a clock is off by a share', () => {
    expect(words(ends([1020, 1970], [1025, 1988]))).toEqual(['expected spread']);
    expect(words(ends([1020, 1970], [1025, 1991]))).toEqual(['too far apart']);
    const spreads = (['throttleMin', 'throttleCentre', 'throttleMax'] as const).map(
      (k) => definitionOf(k).calibratedSpread,
    );
    expect(spreads).toEqual([10, 15, 20]);
  });

  it('of a motor that turns both ways has its centre in the middle', () => {
    const both = ends([1020, 1980], [1022, 1979]);
    const turned = {
      ...both,
      escs: both.escs.map((e) => ({
        ...e,
        settings: {...e.settings!, values: {...e.settings!.values, rotation: 2, throttleCentre: 1540}},
      })),
    } as Found;
    expect(words(turned)).toContain('centre off');
  });

  it('names the ESCs that are not known', () => {
    expect(throttleRange(ends([1020, 1980]), 3)).toMatchObject({unknown: [1, 2]});
    expect(throttleRange(undefined, 2)).toEqual({ends: [], unknown: [0, 1], remarks: []});
  });
});

describe('calibration on the bench of Alder', () => {
  it('is found wanting, and right after the highest pulse at power-up and the lowest that follows', async () => {
    const h = new Harness({craft: demoCraft('alder')});
    h.claims.set('B30-6441', {serial: 'B30-6441', board: 'Basalt 30', chip: 'M32', deadTimeNs: 30, at: 0} as never);
    const before = await h.surveyRound();
    expect(throttleRange(before, 6).remarks.map((r) => r.word)).toContain('ends not reached');
    h.bench.plugInto('controller');
    const client = h.connect();
    const send = (level: 'lowest' | 'highest') => client.request('ends.send', {level, leaseMs: 1500});
    await expect(h.run(send('highest'))).rejects.toMatchObject({problem: {code: 'powered'}});
    h.bench.setBattery(false);
    const calibrate = async () => {
      for (let i = 0; i < 8; i++) {
        await send('highest');
        if (i === 1) h.bench.setBattery(true);
        await sleep(h.time, 500);
      }
      await send('lowest');
      await sleep(h.time, 900);
    };
    await h.run(calibrate());
    const withController = await h.run(surveyController(client, before));
    expect(withController.controller?.config).toMatchObject({protocol: 'analog', props: 'out'});
    h.bench.plugInto('single-wire');
    h.connect();
    const after = await h.surveyRound();
    const range = throttleRange(after, 6);
    expect(range.remarks.map((r) => r.word)).toEqual(['expected spread']);
    expect(range.unknown).toEqual([3]);
    for (const {minUs, maxUs} of range.ends) {
      // Clocks within 0.25 %, and 20 µs inside of what was sent.
      expect(Math.abs(minUs - 1020)).toBeLessThanOrEqual(3);
      expect(Math.abs(maxUs - 1980)).toBeLessThanOrEqual(5);
    }
  });

  it('keeps nothing when the highest pulse ends too early', async () => {
    const h = new Harness({craft: demoCraft('alder')});
    h.bench.plugInto('controller');
    const client = h.connect();
    h.bench.setBattery(false);
    const flash = h.bench.escs.map((e) => Buffer.from(e.flash.read(e.chip.settings.start, 64)));
    await h.run(client.request('ends.send', {level: 'highest', leaseMs: 1000}));
    h.bench.setBattery(true);
    await h.run(sleep(h.time, 5000));
    h.bench.escs.forEach((e, i) =>
      expect(flash[i]!.equals(Buffer.from(e.flash.read(e.chip.settings.start, 64)))).toBe(true),
    );
  });
});

describe('two sides', () => {
  const asPlanned = foundAsPlanned(juniper);
  const found = (props: 'in' | 'out' | undefined, over: Partial<Found> = {}): Found => ({
    ...asPlanned,
    controller: {...asPlanned.controller!, config: {...asPlanned.controller!.config, props}},
    ...over,
  });
  /** The rotation of motor 4 is another one than the bench holds now. */
  const turnedOver: Found = {
    ...found('out'),
    escs: asPlanned.escs.map((e) =>
      e.output === 3 ? {...e, settings: {layout: 8, values: {...e.settings!.values, rotation: 1}}} : e,
    ),
  };
  const sides = (of: Found | undefined, sightings: readonly Sighting[]) =>
    twoSides({craft: juniper, found: of, replaced: {}}, sightings);
  const seen = (props: 'in' | 'out', over: Partial<Sighting> = {}): Sighting[] =>
    wantedDirections({...juniper, props}).map((sense, output) => ({
      ...sightingOf(output, juniper, {found: found('out'), ...(output === 3 && over)}),
      ...(output !== 3 && {sense}),
      ...(output === 3 && {sense: over.sense ?? sense}),
    }));
  it.each([
    ['both as planned', seen('out'), 'out', 'agree'],
    ['only the motors', seen('out'), 'in', 'would flip'],
    ['only the flight controller', seen('in'), 'out', 'would flip'],
    ['both the other way', seen('in'), 'in', 'would flip'],
    ['one motor alone is wrong', seen('out', {sense: 'clockwise'}), 'out', 'would flip'],
    ['nobody looked, told as planned', [], 'out', 'not seen'],
    ['nobody looked, told otherwise', [], 'in', 'would flip'],
    [
      'seen before the ESC was changed',
      [...seen('out').slice(0, 3), sightingOf(3, juniper, {found: turnedOver})],
      'out',
      'not seen',
    ],
    ['a controller that does not tell', seen('out'), undefined, 'not reported'],
  ] as const)('%s: %s', (_, sightings, controller, kind) => {
    expect(sides(found(controller), sightings).kind).toBe(kind);
  });
  it('says so in words', () => {
    expect(sides(found('in'), seen('out')).text).toBe(
      'The motors turn as props out, the flight controller is set to props in. It would flip at take-off. One work order sets both sides.',
    );
    // Motors and what is set agree, but the controller's own mixer yaws the other way round.
    const senses = wantedDirections(juniper);
    const right = mixerOf(juniper.arms, senses).rows;
    const mixed = (rows: typeof right): Found => ({
      ...found('out'),
      controller: {...found('out').controller!, mixer: rows},
    });
    expect(sides(mixed(right), seen('out')).kind).toBe('agree');
    expect(sides(mixed(right.map((r) => ({...r, yaw: -r.yaw}))), seen('out'))).toMatchObject({
      kind: 'would flip',
      text: expect.stringContaining('Its yaw is reversed on every output.'),
    });
    expect(twoSides({craft: alder, found: undefined, replaced: {}}, []).kind).toBe('not reported');
  });
});
