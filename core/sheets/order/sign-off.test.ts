/** What Sign-off says: every proof, how it stands, and what takes it back. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {proofKinds} from '../../proof/proof';
import {routeStates} from '../../route/stations';
import {blankRecord, withPartReplaced, type CraftRecord} from '../../route/craft-record';
import type {RouteQuestion} from '../../route/standings';
import {foundAsPlanned} from '../../testing/found-as-planned';
import {proofOf, sightingOf, testSession} from '../../testing/proof-of';
import {replaceableParts, takenBackBy} from '../survey/replaced-parts';
import {signOffSheet} from './sign-off';

const whole: CraftRecord = {
  ...blankRecord(juniper.id),
  ...{count: 20, found: foundAsPlanned(juniper), foundPlace: 1},
  proofs: proofKinds.filter((kind) => kind !== 'noise').map((kind) => proofOf(kind, juniper)),
  sightings: juniper.arms.map((_, output) => sightingOf(output, juniper)),
};
const now = {session: testSession, cycles: 1};
const ask = (over: Partial<CraftRecord> = {}, more: Partial<RouteQuestion> = {}): RouteQuestion => ({
  ...{craft: juniper, record: {...whole, ...over}, now},
  ...more,
});
const kinds = (q: RouteQuestion) => Object.fromEntries(signOffSheet(q).lines.map((l) => [l.name, l.kind]));

describe('sign-off', () => {
  it('of an empty craft: everything is open, with how to get it', () => {
    const sheet = signOffSheet({craft: juniper, record: blankRecord(juniper.id), now: undefined});
    expect(sheet.verdict).toBe('open');
    expect(sheet.open).toHaveLength(sheet.lines.length);
    expect(sheet.lines.map((l) => l.text)).toContain('The transmitter has not been switched off yet.');
    expect([sheet.inFlight, sheet.predicted]).toEqual([[], undefined]);
  });

  it('all proven: as the route counts it', () => {
    const sheet = signOffSheet(ask());
    expect(sheet.lines.filter((l) => l.kind !== 'current')).toEqual([]);
    expect([sheet.verdict, sheet.open.length, sheet.earlier]).toEqual(['proven', 0, 0]);
    expect(routeStates(ask())['sign-off'].note).toBe('all proven');
  });

  it('of another power cycle: proven earlier, and what happened', () => {
    const sheet = signOffSheet(ask({}, {now: {session: testSession, cycles: 2}}));
    expect([sheet.verdict, sheet.earlier]).toEqual(['proven', sheet.lines.length]);
    // What was read counts as little as what was measured.
    expect(sheet.lines[0]).toMatchObject({kind: 'earlier', since: 'Read earlier; the battery was off since.'});
    expect(signOffSheet(ask({}, {now: undefined})).lines.map((l) => l.kind)).not.toContain('current');
    expect(sheet.lines[1]!.since).toBe('Proven earlier; the battery was off since.');
    // Rotation was seen in a power cycle too.
    expect(sheet.lines[3]).toMatchObject({name: 'Order and rotation', kind: 'earlier'});
  });

  it('half a survey: who did not answer is open, what rests on it was proven earlier', () => {
    const escs = whole.found!.escs.slice(0, 3);
    const of = kinds(ask({found: {...whole.found!, escs}, foundPlace: 15}));
    expect(of['Everything answers']).toBe('none');
    expect(of['Same firmware, page by page']).toBe('earlier');
  });

  it('a plug swapped: no longer valid, with both motors named', () => {
    const [a, b] = whole.found!.escs.map((e) => e.boot);
    const swapped = whole.found!.escs.map((e) =>
      e.output === 0 ? {...e, boot: b!} : e.output === 1 ? {...e, boot: a!} : e,
    );
    const sheet = signOffSheet(ask({found: {...whole.found!, escs: swapped}, foundPlace: 15}));
    expect(sheet.lines[3]).toMatchObject({
      kind: 'void',
      since:
        'No longer valid: another ESC is on motor 1 now, S1 in place of S0; another ESC is on motor 2 now, S0 in place of S1.',
    });
  });

  it('a mixer that yaws the other way must not fly, and the route waits for it', () => {
    const rows = juniper.arms.map((arm, i) => ({
      ...{throttle: 1, roll: -Math.sign(arm.xMm), pitch: Math.sign(arm.yMm), yaw: i % 2 ? 1 : -1},
    }));
    const verdicts = [rows, rows.map((r) => ({...r, yaw: -r.yaw}))].map((mixer) => {
      const found = {...whole.found!, controller: {...whole.found!.controller!, mixer}};
      return [signOffSheet(ask({found})).verdict, routeStates(ask({found})).spin.note];
    });
    expect(verdicts).toContainEqual(['must not fly', 'would flip']);
    expect(verdicts.filter(([v]) => v === 'must not fly').length).toBeGreaterThan(0);
  });

  it('a station that is open although its proofs stand says so in its line', () => {
    const found = {...whole.found!, controller: undefined};
    const sheet = signOffSheet(ask({found}));
    expect(sheet.verdict).toBe('open');
    expect(routeStates(ask({found}))['sign-off'].state).toBe('open');
  });

  it('of eight motors and of motors without replies', () => {
    const arms = [...juniper.arms, ...juniper.arms];
    const eight = {
      ...juniper,
      arms,
      plan: {...juniper.plan, controller: {...juniper.plan.controller, arms: [...arms.keys()]}},
    };
    expect(signOffSheet({craft: eight, record: whole, now}).lines[3]!.text).toMatch(/^\d of 8 outputs seen/);
    const silent = {...juniper, plan: {...juniper.plan, controller: {...juniper.plan.controller, replies: false}}};
    expect(kinds({craft: silent, record: whole, now})).not.toHaveProperty('Motors stop on signal loss');
  });
});

describe('parts that can be replaced', () => {
  it('each names what it takes back', () => {
    const parts = replaceableParts(juniper).map((p) => p.part);
    expect(parts).toEqual(['motor 0', 'motor 1', 'motor 2', 'motor 3', 'controller']);
    expect(takenBackBy('motor 1', ask())).toEqual([
      'Order and rotation',
      'Propeller direction: motors and flight controller agree',
      'Motors alike and plausible',
      'No reply lost',
    ]);
    expect(takenBackBy('controller', ask())).toEqual([
      'Every setting as planned',
      'No reply lost',
      'The board sits as set',
      'Sticks on their channels, ends right',
      'Motors stop on signal loss',
    ]);
  });

  it('nothing where nothing was proven, and a first power-up is one again', () => {
    expect(takenBackBy('motor 0', {craft: juniper, record: blankRecord(juniper.id), now})).toEqual([]);
    expect(withPartReplaced({...whole, firstPower: {at: 1, amps: 0.3}}, 'motor 0').firstPower).toBeUndefined();
  });
});
