import {expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {Harness} from '@simulator/testing/bench-harness';
import {routeStates, type RouteQuestion} from './stations';
import {stillOpen} from './still-open';

const question: RouteQuestion = {
  craft: juniper,
  found: undefined,
  proofs: [],
  written: {},
  sightings: [],
  noise: undefined,
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
  const open = stillOpen(routeStates({...question, found, proofs, now}));
  expect(open.map((o) => o.station)).toEqual(['spin', 'arming']);
});
