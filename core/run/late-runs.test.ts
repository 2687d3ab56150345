import {expect, it} from 'vitest';
import {lateKinds} from './late-runs';
import {stepKinds} from './steps/step-kinds';

it('every kind of step is carried out by itself or by the runner, and by one of the two', () => {
  const without = stepKinds.all.filter((kind) => !('run' in kind)).map(({kind}) => kind);
  expect([...without].sort()).toEqual([...lateKinds].sort());
});
