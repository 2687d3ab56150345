import {expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {Harness} from '@simulator/testing/bench-harness';
import {blankRecord, withFound, withProofs} from './craft-record';
import {routeStates} from './stations';
import type {RouteQuestion} from './standings';
import {stillOpen} from './still-open';

const question: RouteQuestion = {
  craft: juniper,
  record: blankRecord(juniper.id),
  now: undefined,
};

it('a new craft: everything, in the order of the route, without what is only predicted', () => {
  expect(stillOpen(routeStates(question)).map((o) => o.station)).toEqual([
    'survey',
    'firmware',
    'parameters',
    'spin',
    'signal',
    'arming',
  ]);
});

it('after an order: what it proved is not listed any more', async () => {
  const h = new Harness();
  const outcome = await h.carryOut(await h.order());
  if (outcome.kind !== 'finished') throw new Error(outcome.problem.meaning);
  const {found, proofs} = outcome;
  const now = {session: h.host().session, cycles: found.power.cycles};
  const proven = {...question.record, ...withProofs(question.record, proofs)};
  const open = stillOpen(routeStates({...question, record: {...proven, ...withFound(proven, found)}, now}));
  expect(open.map((o) => o.station)).toEqual(['spin', 'arming']);
});
