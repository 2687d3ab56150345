/** A proof is current while all that it rests on is as it was; what differs is named. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import type {Found, FoundEsc} from '../bench/found';
import {withReplaced} from '../bench/replaced';
import type {Receiver} from '../controller/arming-fields';
import type {ControllerConfig} from '../controller/plan';
import type {Craft} from '../craft/craft';
import {countOf, isSome, isWholeProof, proofKinds, type ProofKind} from '../proof/proof';
import {isProven, standingText, type Standing} from '../proof/standing';
import {recordFromVersion8} from '../backup/from-version-8';
import {foundAsPlanned} from '../testing/found-as-planned';
import {proofOf, sightingOf, testSession} from '../testing/proof-of';
import {blankRecord, withPartReplaced, withProofs, withWritten, type CraftRecord} from './craft-record';
import {routeStates} from './stations';
import {seenStanding, standings, type RouteQuestion} from './standings';

const receiver: Receiver = {
  ...{kind: 'serial', port: 2, roll: 1, pitch: 2, throttle: 3, yaw: 4, deadBandUs: 2},
};
const asPlanned = foundAsPlanned(juniper);
/** With the fields that Juniper's plan leaves as they are. */
const found: Found = {
  ...asPlanned,
  controller: {
    ...asPlanned.controller!,
    config: {
      ...asPlanned.controller!.config,
      ...{
        receiver,
        mounting: {roll: 0, pitch: 0, yaw: 0},
        accelerometer: true,
        failSafe: {action: 'drop', afterMs: 500},
      },
    },
  },
};
const record: CraftRecord = {
  ...blankRecord(juniper.id),
  ...{count: 20, found, foundPlace: 10},
  proofs: proofKinds.map((kind) => proofOf(kind, juniper, {found})),
  sightings: juniper.arms.map((_, output) => sightingOf(output, juniper, {found})),
};
const without = <T extends object>(of: T, ...keys: (keyof T & string)[]): object =>
  Object.fromEntries(Object.entries(of).filter(([key]) => !keys.some((k) => k === key)));
const now = {session: testSession, cycles: 1};
const ask = (over: Partial<CraftRecord> = {}, more: Partial<RouteQuestion> = {}): RouteQuestion => ({
  ...{craft: juniper, record: {...record, ...over}, now},
  ...more,
});
const standing = (kind: ProofKind, over?: Partial<CraftRecord>, more?: Partial<RouteQuestion>): Standing =>
  standings(ask(over, more))[kind];
const why = (s: Standing): string => (s.kind === 'void' ? s.why : s.kind);
const withConfig = (config: Partial<ControllerConfig>): Found => ({
  ...found,
  controller: {...found.controller!, config: {...found.controller!.config, ...config}},
});
const withEsc = (output: number, of: (esc: FoundEsc) => Partial<FoundEsc>): Found => ({
  ...found,
  escs: found.escs.map((e) => (e.output === output ? {...e, ...of(e)} : e)),
});
const withSetting = (output: number, values: Partial<NonNullable<FoundEsc['settings']>['values']>): Found =>
  withEsc(output, ({settings}) => ({settings: {...settings!, values: {...settings!.values, ...values}}}));
const planned = (controller: Partial<Craft['plan']['controller']>): Craft => ({
  ...juniper,
  plan: {...juniper.plan, controller: {...juniper.plan.controller, ...controller}},
});

describe('a proof', () => {
  it('is current in the connection and power cycle it was taken in', () => {
    for (const kind of proofKinds) expect(standing(kind).kind, kind).toBe('current');
    expect(standingText(standing('pages'))).toBe('');
    expect(standing('pages', {proofs: []})).toEqual({kind: 'none'});
    expect(standing('pages', {proofs: [proofOf('pages', juniper, {holds: false})]})).toMatchObject({kind: 'failed'});
  });

  it.each([
    ['a battery cycle', {session: testSession, cycles: 2}, 'Proven earlier; the battery was off since.'],
    ['a reload', {session: 'x', cycles: 1}, 'Proven earlier; the cable was out or the page was loaded again since.'],
    ['no bench', undefined, 'Proven earlier; the bench is not connected now.'],
  ])('was proven earlier, after %s', (_, later, text) => {
    const s = standing('pages', {}, {now: later});
    expect([s.kind, isProven(s), standingText(s)]).toEqual(['earlier', true, text]);
    expect(standing('noise', {}, {now: later}).kind).toBe('current');
  });

  it('was proven earlier where nobody has read again what it rests on', () => {
    const silent = {...found, escs: found.escs.slice(0, 3)};
    expect(standingText(standing('pages', {found: silent}))).toBe(
      'Proven earlier; not everything that it rests on has been read since.',
    );
    expect(standing('mounting', {found: {...found, controller: undefined}}).kind).toBe('earlier');
    expect(standing('mounting', {found: undefined}).kind).toBe('earlier');
  });

  it('of nothing has no type, and records of before ESCs were named are none', () => {
    expect([countOf(0), countOf(-1), countOf(1.5), countOf(3)]).toEqual([undefined, undefined, undefined, 3]);
    expect([isSome([]), isSome([1])]).toEqual([false, true]);
    // @ts-expect-error zero is no count
    const nothing = proofOf('pages', juniper, {count: 0, on: []});
    expect(isWholeProof(nothing)).toBe(false);
    expect(isWholeProof({kind: 'pages', at: 1, holds: true, text: '0 of 0'} as never)).toBe(false);
  });

  it('of version 8, which did not say what it rests on, is kept and no longer valid', () => {
    const old = without(proofOf('pages', juniper), 'grounds', 'place');
    const seen = without(sightingOf(0, juniper), 'grounds', 'place', 'session', 'cycles');
    const read = recordFromVersion8({craftId: 'juniper', proofs: [old], sightings: [seen], written: {firmware: 5}});
    expect(read).toMatchObject({count: 0, written: {}, writtenAt: {firmware: 5}, replaced: {}});
    expect(why(standing('pages', {proofs: read.proofs}))).toContain('it was taken by an earlier version of Bidex');
    expect(seenStanding(ask({sightings: read.sightings})).kind).toBe('void');
    expect(recordFromVersion8(record)).toBe(record);
  });
});

describe('the flight controller changed by another program', () => {
  const mounting = {roll: 0, pitch: 0, yaw: 180};
  it.each([
    ['mounting', {mounting}, ['settings', 'mounting', 'level'], /Mounting of the board was .* and is /],
    [
      'roll and pitch channels',
      {receiver: {...receiver, roll: receiver.pitch, pitch: receiver.roll}},
      ['settings', 'receiver', 'fail-safe'],
      /^Receiver was /,
    ],
    ['fail-safe time', {failSafe: {action: 'drop', afterMs: 9000}}, ['settings', 'fail-safe'], /^Fail-safe was /],
    ['fail-safe action', {failSafe: {action: 'land', afterMs: 600}}, ['settings', 'fail-safe'], /^Fail-safe was /],
    ['gyro low-pass', {gyroLowPassHz: 50}, ['settings'], /^Gyro low-pass was .* and is 50 Hz$/],
    ['loop', {loopHz: 2000}, ['settings', 'replies'], /^Control loop was .* and is 2 kHz$/],
    ['protocol', {protocol: 'dshot600'}, ['settings', 'replies'], /^Motor protocol was /],
    ['poles', {poles: 12}, ['settings', 'replies'], /^Motor poles was 14 and is 12$/],
    ['gyro rate', {gyroHz: 3200}, ['settings', 'replies'], /^the gyro rate was 8000 Hz and is 3200 Hz$/],
    ['notches', {movingNotches: 4}, ['settings', 'replies'], /^Moving notches was /],
    ['accelerometer', {accelerometer: false}, ['settings', 'mounting', 'level'], /^Accelerometer was on and is off$/],
    ['idle', {idlePercent: 2}, ['settings', 'replies'], /^Idle throttle was .* and is 2 %$/],
  ] as [string, Partial<ControllerConfig>, ProofKind[], RegExp][])('%s', (_, config, kinds, sentence) => {
    const all = standings(ask({found: withConfig(config)}));
    expect(proofKinds.filter((kind) => all[kind].kind === 'void').sort()).toEqual([...kinds].sort());
    for (const kind of kinds) expect(why(all[kind])).toMatch(sentence);
    expect(routeStates(ask({found: withConfig(config)}))['sign-off'].state).toBe('open');
  });

  it('its map of outputs: what was seen of both outputs is to be looked at again', () => {
    const arms = [1, 0, 2, 3];
    expect(seenStanding(ask({found: withConfig({arms})}))).toMatchObject({kind: 'void', rightly: 2});
  });
});

describe('parts', () => {
  it('another ESC takes back all that was taken on the one before', () => {
    const other = withEsc(2, ({boot}) => ({boot: {...boot, serial: 'other'}}));
    const all = standings(ask({found: other}));
    const kinds = proofKinds.filter((kind) => all[kind].kind === 'void');
    expect(kinds).toEqual(['pages', 'settings', 'replies', 'motion', 'fail-safe', 'noise']);
    expect(why(all.pages)).toBe('another ESC is on motor 3 now, other in place of S2');
    expect(seenStanding(ask({found: other}))).toMatchObject({kind: 'void', rightly: 3});
  });

  it('two plugs swapped: what was seen went with the ESCs, and both outputs are to be looked at again', () => {
    const [a, b] = [found.escs[1]!.boot.serial, found.escs[2]!.boot.serial];
    const escs = found.escs.map((e) =>
      e.output === 1 ? {...e, boot: {...e.boot, serial: b}} : e.output === 2 ? {...e, boot: {...e.boot, serial: a}} : e,
    );
    const seen = seenStanding(ask({found: {...found, escs}}));
    expect([seen.kind, seen.rightly]).toEqual(['void', 2]);
    expect(seen.since).toBe(
      `another ESC is on motor 2 now, ${b} in place of ${a}; another ESC is on motor 3 now, ${a} in place of ${b}`,
    );
  });

  it('a motor that was replaced takes back what was seen and measured of it', () => {
    const replaced = withReplaced({}, 'motor 2');
    const all = standings(ask({replaced}));
    expect(proofKinds.filter((kind) => all[kind].kind === 'void')).toEqual(['replies', 'motion', 'noise']);
    expect(why(all.motion)).toBe('motor 3 was replaced');
    expect(seenStanding(ask({replaced}))).toMatchObject({kind: 'void', rightly: 3, since: 'motor 3 was replaced'});
    // A second time is another part again.
    const once = {...record, ...withPartReplaced(record, 'motor 2')};
    const again = withProofs(once, [proofOf('motion', juniper, {found, replaced: once.replaced})]);
    expect(standing('motion', {...once, ...again}).kind).toBe('current');
    expect(standing('motion', {...once, ...again, replaced: withReplaced(once.replaced, 'motor 2')}).kind).toBe('void');
  });

  it.each([
    [
      'told by its serial',
      {found: {...found, controller: {...found.controller!, identity: {...found.controller!.identity, serial: 'F2'}}}},
      'another flight controller is there now, Slate F F2 in place of Slate F F1',
    ],
    ['told by a person', {replaced: withReplaced({}, 'controller')}, 'the flight controller was replaced'],
  ] as [string, Partial<CraftRecord>, string][])(
    'another flight controller, %s, takes back mounting, receiver and fail-safe',
    (_, over, text) => {
      const all = standings(ask(over));
      for (const kind of ['mounting', 'receiver', 'fail-safe', 'settings', 'replies'] as const)
        expect(why(all[kind]), kind).toBe(text);
      expect(all.motion.kind).toBe('current');
    },
  );

  it('a propeller direction planned the other way makes no sighting right', () => {
    expect(seenStanding(ask({}, {craft: {...juniper, props: 'in'}})).rightly).toBe(0);
  });
});

describe('settings and firmware of an ESC', () => {
  it('another setting is named with motor, before and after; one that only sounds takes no motion back', () => {
    expect(why(standing('settings', {found: withSetting(1, {timing: 7.5})}))).toMatch(
      /^Timing .* of motor 2 was .* and is 7.5°$/,
    );
    expect(standing('motion', {found: withSetting(1, {timing: 7.5})}).kind).toBe('void');
    expect(standing('motion', {found: withSetting(1, {toneLoudness: 3})}).kind).toBe('current');
    expect(standing('settings', {found: withSetting(1, {toneLoudness: 3})}).kind).toBe('void');
  });

  it('firmware of the same name with other bytes is other firmware', () => {
    const other = withEsc(0, ({identity}) => ({identity: {...identity!, bodyCrc32: 7}}));
    expect(why(standing('pages', {found: other}))).toBe(
      'the firmware of motor 1 was Meridian 4.2 00000000 and is Meridian 4.2 00000007',
    );
  });

  it('a page that changed behind an identity block that did not', () => {
    const crcs = (n: number) => Array.from({length: 58}, (_, i) => (i === 20 ? n : i));
    const before = withEsc(0, () => ({pageCrcs: crcs(1)}));
    const proofs = [proofOf('pages', juniper, {found: before})];
    expect(standing('pages', {proofs, found: before}).kind).toBe('current');
    const after = withEsc(0, () => ({pageCrcs: crcs(2)}));
    expect(why(standing('pages', {proofs, found: after}))).toBe('pages of motor 1 are not those that were checked');
    // What lies behind the image is not part of it.
    const behind = withEsc(0, () => ({pageCrcs: crcs(1).map((c, i) => (i === 50 ? 99 : c))}));
    expect(standing('pages', {proofs, found: behind}).kind).toBe('current');
  });
});

describe('the plan', () => {
  const kinds = (craft: Craft) =>
    (['pages', 'settings', 'replies'] as const).map((kind) => standing(kind, {}, {craft}).kind);

  it('each kind is about its own part, and back to what it was is true again', () => {
    expect(kinds(planned({notchQ: 9}))).toEqual(['current', 'void', 'current']);
    expect(kinds(planned({loopHz: 2000}))).toEqual(['current', 'void', 'void']);
    expect(kinds({...juniper, plan: {...juniper.plan, firmware: {family: 'Meridian', version: '4.1'}}})).toEqual([
      'void',
      'current',
      'current',
    ]);
    // The order of keys says nothing.
    const parameters = Object.fromEntries(Object.entries(juniper.plan.parameters).reverse());
    expect(kinds({...juniper, plan: {...juniper.plan, parameters}})).toEqual(['current', 'current', 'current']);
  });

  it('of more motors than were measured', () => {
    const six: Craft = {...juniper, arms: [...juniper.arms, ...juniper.arms.slice(0, 2)]};
    const escs = [
      ...found.escs,
      ...[4, 5].map((output) => ({...found.escs[0]!, output, boot: {...found.escs[0]!.boot, serial: `S${output}`}})),
    ];
    expect(why(standing('pages', {found: {...found, escs}}, {craft: six}))).toContain(
      'the ESC of motor 5 was not part of it',
    );
  });
});

describe('the running count', () => {
  it('what an order writes later takes back what rests on it, and says what', () => {
    const later = {...record, ...withWritten(record, 'firmware', 1)};
    expect(why(standing('pages', later))).toBe('a work order has written ESC firmware since');
    expect(standing('mounting', later).kind).toBe('current');
    const again = withProofs(later, [proofOf('pages', juniper, {found})]);
    expect(standing('pages', {...later, ...again}).kind).toBe('current');
  });

  it('a clock set back between proof and writing makes no proof newer, nor between writing and proof one older', () => {
    const [late, early] = [2_000_000, 1_000];
    const proven = {...record, ...withProofs(record, [proofOf('pages', juniper, {at: late})])};
    expect(standing('pages', {...proven, ...withWritten(proven, 'firmware', early)}).kind).toBe('void');
    const written = {...record, ...withWritten(record, 'firmware', late)};
    expect(standing('pages', {...written, ...withProofs(written, [proofOf('pages', juniper, {at: early})])}).kind).toBe(
      'current',
    );
  });

  it('keeps what the newest proof of each kind rests on, and of older ones that they were', () => {
    const twice = withProofs({...record, ...withProofs(record, [proofOf('pages', juniper)])}, [
      proofOf('pages', juniper),
    ]);
    const pages = twice.proofs!.filter((p) => p.kind === 'pages');
    expect(pages.map((p) => p.grounds.length > 1)).toEqual([false, false, true]);
    expect(new Set(pages.map((p) => p.place)).size).toBe(3);
  });
});
