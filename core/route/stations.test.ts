import {describe, expect, it} from 'vitest';
import type {Craft} from '../craft/craft';
import {juniper} from '@demo/craft/juniper';
import type {ProofKind} from '../proof/proof';
import {proofOf, sightingOf, testSession} from '../testing/proof-of';
import {foundAsPlanned} from '../testing/found-as-planned';
import {blankRecord, type CraftRecord} from './craft-record';
import type {RouteQuestion} from './standings';
import {routeStates} from './stations';
import {stationNames} from '../words/station-names';
import {plannedFilters, type NoiseForecast} from '../tuning/noise-forecast';
import {sightingHolds, type Sighting} from '../spin/sighting/sighting';

const proof = (kind: ProofKind, holds = true) => proofOf(kind, juniper, {holds});
const sightings: Sighting[] = juniper.arms.map((_, output) => sightingOf(output, juniper));
const noise: NoiseForecast = {
  flight: 'flight 11',
  ratio: 1,
  gainDb: 9,
  delayMs: 1.7,
  planned: plannedFilters(juniper.plan.controller),
  at: 7,
};
const kinds = ['pages', 'settings', 'replies', 'motion', 'mounting', 'receiver', 'fail-safe'] as const;
const whole: CraftRecord = {
  ...blankRecord(juniper.id),
  ...{count: 9, found: foundAsPlanned(juniper), foundPlace: 1, sightings, noise},
  proofs: kinds.map((kind) => proof(kind)),
};
type Over = Partial<CraftRecord> & Partial<Pick<RouteQuestion, 'craft' | 'now'>>;
const asked = ({craft = juniper, ...over}: Over = {}): RouteQuestion => {
  const {now = undefined, ...record} = 'now' in over ? over : {...over, now: {session: testSession, cycles: 1}};
  return {craft, record: {...whole, ...record}, now};
};
const states = (over: Over = {}) => routeStates(asked(over));
const plan = (controller: Partial<Craft['plan']['controller']>): Craft => ({
  ...juniper,
  plan: {...juniper.plan, controller: {...juniper.plan.controller, ...controller}},
});

describe('the route', () => {
  it('is done where every proof holds; noise is predicted, and sign-off does not wait for it', () => {
    const route = states();
    for (const name of stationNames) expect(route[name].state, name).toBe(name === 'noise' ? 'part' : 'done');
    expect(route.noise.note).toBe('predicted');
    expect(route['sign-off'].note).toBe('all proven');
    expect(states({noise: undefined})['sign-off'].note).toBe('all proven');
  });

  it('is open before the first survey, but for the craft', () => {
    const route = states({found: undefined, proofs: [], sightings: [], noise: undefined, now: undefined});
    expect(stationNames.map((n) => route[n].state)).toEqual([
      'done',
      'open',
      'open',
      'open',
      'open',
      'open',
      'open',
      'open',
      'open',
    ]);
    expect(route['sign-off'].note).toBe('');
  });

  it('a plan that nobody proved is not done', () => {
    expect(states({proofs: []}).firmware).toEqual({state: 'part', note: 'not proven'});
    expect(states({proofs: []}).parameters).toEqual({state: 'part', note: 'not proven'});
    expect(states({proofs: []}).signal).toEqual({state: 'open', note: ''});
  });

  it('the newest proof of a kind counts', () => {
    expect(states({proofs: [...whole.proofs, proof('replies', false)]}).signal).toEqual({
      state: 'part',
      note: 'replies lost',
    });
  });

  it('firmware counts the motors that are behind', () => {
    const behind: Craft = {...juniper, plan: {...juniper.plan, firmware: {family: 'Meridian', version: '4.3-b1'}}};
    expect(states({craft: behind}).firmware).toEqual({state: 'part', note: '4 behind'});
    expect(states({craft: behind, proofs: []}).firmware).toEqual({state: 'part', note: '4 behind'});
  });

  it('parameters count lines, not motors', () => {
    const changed: Craft = {
      ...juniper,
      plan: {
        ...juniper.plan,
        parameters: {...juniper.plan.parameters, timing: {kind: 'same', value: 15}, demag: {kind: 'same', value: 2}},
      },
    };
    expect(states({craft: changed}).parameters).toEqual({state: 'part', note: '2 differ'});
  });

  it.each([
    [{loopHz: 2000}, 'part', 'predicted'],
    [{notchQ: 7}, 'done', 'plan changed'],
    [{poles: 12}, 'part', 'plan changed'],
    // The proof was taken at the idle of then.
    [{idlePercent: 5}, 'part', 'predicted'],
  ] as const)('a plan changed by %j opens what it touches: signal %s, noise %s', (change, signal, noisy) => {
    const route = states({craft: plan(change)});
    expect([route.signal.state, route.noise.note]).toEqual([signal, noisy]);
    expect(route.parameters).toEqual({state: 'part', note: 'no longer valid'});
  });

  it('follows an order: a proof newer than the survey counts, whatever the survey found before', () => {
    const before = {
      ...foundAsPlanned(juniper),
      escs: foundAsPlanned(juniper).escs.map((e) => ({...e, identity: {...e.identity!, version: '3.9'}})),
    };
    expect(states({found: before, proofs: []}).firmware).toEqual({state: 'part', note: '4 behind'});
    expect(states({found: before}).firmware).toEqual({state: 'done', note: '4.2'});
    // A survey after the proof that finds something else is the newer truth.
    expect(states({found: before, foundPlace: 6}).firmware).toEqual({state: 'part', note: '4 behind'});
  });

  it('says what held before a battery cycle, and what is void', () => {
    expect(states({now: {session: testSession, cycles: 2}}).firmware).toEqual({state: 'done', note: '4.2, earlier'});
    expect(states({now: undefined}).signal).toEqual({state: 'done', note: 'none lost, earlier'});
    expect(states({written: {firmware: 6}}).firmware).toEqual({state: 'part', note: 'no longer valid'});
  });

  it('arming waits for its three proofs, for two where no motor replies, and for a switch of its own', () => {
    const without = (...kinds: ProofKind[]) => ({proofs: whole.proofs.filter((p) => !kinds.includes(p.kind))});
    expect(states().arming).toEqual({state: 'done', note: 'proven'});
    expect(states(without('receiver')).arming).toEqual({state: 'part', note: '2 of 3'});
    expect(states(without('mounting', 'receiver', 'fail-safe')).arming).toEqual({state: 'open', note: ''});
    expect(states({proofs: [...whole.proofs, proof('mounting', false)]}).arming).toEqual({
      state: 'part',
      note: 'wrong',
    });
    expect(states({written: {arming: 9}}).arming).toEqual({state: 'part', note: 'no longer valid'});
    // A filter that is set again takes nothing from it.
    expect(states({written: {controller: 9}}).arming.state).toBe('done');
    const silent = plan({replies: false});
    const two = [proofOf('mounting', silent), proofOf('receiver', silent)];
    expect(states({craft: silent, proofs: two}).arming).toEqual({state: 'done', note: 'proven'});
    expect(states({craft: plan({switches: []})}).arming).toEqual({state: 'part', note: 'not safe'});
  });

  it('an ESC that fell silent shows at the survey', () => {
    const found = {...foundAsPlanned(juniper), escs: foundAsPlanned(juniper).escs.slice(0, 3)};
    expect(states({found}).survey).toEqual({state: 'part', note: '3 of 4'});
  });

  it('sign-off counts what is open', () => {
    expect(states({noise: undefined, sightings: []})['sign-off']).toEqual({state: 'open', note: '1 open'});
  });
});

describe('a sighting', () => {
  const holds = (over: Partial<Sighting>, craft = juniper) =>
    sightingHolds({...sightings[1]!, ...over}, {craft, found: foundAsPlanned(juniper), replaced: {}});
  it('holds on the planned arm, the right way, with the setting of then', () => expect(holds({})).toBe(true));
  it.each([
    ['another arm', {arm: 2}],
    ['the wrong way', {sense: 'clockwise'}],
    ['a setting changed since', {grounds: sightings[2]!.grounds}],
  ] as [string, Partial<Sighting>][])('does not hold: %s', (_, over) => expect(holds(over)).toBe(false));
  it('turns over when the propellers do', () => expect(holds({}, {...juniper, props: 'in'})).toBe(false));
  it('makes spin in part until all are seen', () => {
    expect(states({sightings: sightings.slice(0, 2)}).spin).toEqual({state: 'part', note: '2 of 4'});
  });
});
