/** Settings as a person may have set them: some at random, each a value that its kind takes. */
import type {SettingKind, SettingScalar, SettingValue, SettingValues, SimpleKind} from '@core/link/setting-shapes';
import type {Random} from '../../../random';
import {plumbSettings} from './plumb-settings';

/** @param share of the settings that are set. A mixer is none that is set at random: with one nothing flies. */
export function drawnSettings(version: string, random: Random, share: number): SettingValues {
  return Object.fromEntries(
    plumbSettings(version).flatMap(({key, kind}) =>
      key !== 'mixer.rows' && random.next() < share ? [[key, drawn(kind, random)]] : [],
    ),
  );
}

function drawn(kind: SettingKind, random: Random): SettingValue {
  const rows = (most: number) => Array.from({length: random.below(Math.min(6, most) + 1)});
  if (kind.of === 'list') return rows(kind.most).map(() => scalar(kind.each, random));
  if (kind.of === 'table')
    return rows(kind.most).map(() =>
      Object.fromEntries(kind.columns.map((column) => [column.name, scalar(column.kind, random)])),
    );
  return scalar(kind, random);
}

function scalar(kind: SimpleKind, random: Random): SettingScalar {
  switch (kind.of) {
    case 'truth':
      return random.next() < 0.5;
    case 'one of':
      return kind.words[random.below(kind.words.length)]!;
    case 'text':
      return 'abc def'.slice(0, random.below(Math.min(7, kind.longest) + 1));
    case 'number': {
      const {min, max, step = (max - min) / 100} = kind;
      return Number((min + step * random.below(Math.floor((max - min) / step) + 1)).toFixed(6));
    }
  }
}
