/** Flight controllers whose account of their own settings is not true of what they hold. */
import type {Message} from '@core/link/message';
import {own, type Fault} from './fault';

interface Written {
  readonly lines: readonly unknown[];
}
const isWrite = (m: Message): m is Message & {argument: Written} => m.operation === 'settings.write';

export const untidy: Readonly<Record<string, () => Fault>> = {
  'describes-by-the-page': () => ({
    foundBy: 'settings-described',
    request(m, {pass}) {
      const {from = 0} = (m.argument ?? {}) as {from?: number};
      const argument = {...(m.argument as object), from: from - (from % 8)};
      pass(m.operation === 'settings.describe' ? {...m, argument} : m);
    },
  }),
  'holds-what-it-does-not-take': () => ({
    foundBy: 'settings-fit',
    answer(m) {
      const {lines} = (m.argument ?? {}) as {lines?: readonly {key: string; value: unknown}[]};
      if (!lines) return m;
      const wrong = lines.map((l) => (typeof l.value === 'number' ? {...l, value: 99_999_999} : l));
      return {...m, argument: {...(m.argument as object), lines: wrong}};
    },
  }),
  'sets-the-lines-before-the-wrong-one': () => ({
    foundBy: 'settings-whole',
    request(m, {pass}) {
      const first = isWrite(m) && m.argument.lines.length > 1 ? m.argument.lines.slice(0, 1) : undefined;
      if (first) pass(own({...m, argument: {lines: first}}));
      pass(m);
    },
  }),
  'saves-every-line': () => ({
    foundBy: 'settings-unsaved',
    request(m, {pass}) {
      pass(m);
      if (isWrite(m)) pass(own({...m, operation: 'settings.save', argument: null}));
    },
  }),
};
