/** What the proof by two flights rests on. */
import {escsFound, fieldsPlanned, motorsReplaced, rules, settingsFound, type ProofRow} from '../bench/grounds';
import {plannedFilters} from '../tuning/noise-forecast';

export const noiseRow: ProofRow = {
  kind: 'noise',
  restsOn: ['firmware', 'settings', 'controller'],
  isOffBench: true,
  grounds: (q) => [
    rules(),
    ...escsFound(q),
    ...settingsFound(q),
    ...fieldsPlanned(q, ['poles']),
    {
      key: 'planned filters',
      value: plannedFilters(q.plan.controller),
      name: 'the planned filters',
      sentence: () => 'the planned filters were changed',
    },
    motorsReplaced(q),
    {key: 'weight', value: q.craft.weightG, name: 'the mass of the craft', shown: (v) => `${v} g`},
  ],
};
