/** How a setting of a flight controller is edited, by its kind. */
import {describe, expect, it} from 'vitest';
import {refusalOf} from '../../link/setting-accepts';
import type {SettingKind} from '../../link/setting-shapes';
import {gridOf, scalarEditor, scalarRefusal, withGridEdit} from './setting-editor';

describe('one field', () => {
  it('is a choice, a number in its unit, or a text', () => {
    const words = ['a', 'b', 'c', 'd', 'e'];
    expect(scalarEditor({of: 'truth'})).toMatchObject({as: 'choices', isFew: true});
    expect(scalarEditor({of: 'one of', words})).toMatchObject({as: 'choices', isFew: false});
    expect(scalarEditor({of: 'number', min: 0, max: 5, step: 0.01, unit: 'V'})).toEqual({
      ...{as: 'number', suffix: ' V', step: 0.01, digits: 2},
    });
    expect(scalarEditor({of: 'number', min: 0, max: 5})).toMatchObject({step: 1, digits: 3});
    expect(scalarEditor({of: 'text', longest: 8})).toEqual({as: 'text', longest: 8});
  });

  it('says why it does not take a value, an empty number too', () => {
    const kind = {of: 'number', min: 10, max: 20, step: 5} as const;
    expect(scalarRefusal(kind, 15)).toBeUndefined();
    expect(scalarRefusal(kind, 12)).toBe('12 is not a number from 10 to 20 in steps of 5.');
    expect(scalarRefusal(kind, NaN)).toBe('Expected a number from 10 to 20 in steps of 5.');
  });
});

describe('rows of fields', () => {
  const table: SettingKind = {
    of: 'table',
    most: 3,
    columns: [
      {name: 'what_for', kind: {of: 'text', longest: 9}},
      {name: 'x', kind: {of: 'number', min: 1, max: 9, step: 1}},
    ],
  };
  const list: SettingKind = {of: 'list', each: {of: 'one of', words: ['low', 'high']}, most: 2};
  const rows = [
    {what_for: 'a', x: 1},
    {what_for: 'b', x: 2},
  ];

  it('are those of a table or a list, and nothing else', () => {
    expect(gridOf(table, rows)).toMatchObject({
      ...{columns: [{head: 'what for'}, {head: 'x'}], canAdd: true},
      rows: [
        ['a', 1],
        ['b', 2],
      ],
    });
    expect(gridOf(list, ['low', 'high'])).toMatchObject({
      columns: [{head: 'value'}],
      canAdd: false,
      rows: [['low'], ['high']],
    });
    expect(gridOf({of: 'truth'}, true)).toBeUndefined();
  });

  it('are changed, taken out and added, and what comes of it is a value that the setting takes', () => {
    const changed = withGridEdit(table, rows, {row: 1, column: 1, value: 7});
    expect(changed).toEqual([rows[0], {what_for: 'b', x: 7}]);
    expect(withGridEdit(table, rows, {remove: 0})).toEqual([rows[1]]);
    const more = withGridEdit(table, rows, 'add');
    expect(more).toEqual([...rows, rows[1]]);
    expect(withGridEdit(table, [], 'add')).toEqual([{what_for: '', x: 1}]);
    expect(withGridEdit(list, [], 'add')).toEqual(['low']);
    for (const value of [changed, more, withGridEdit(table, [], 'add')])
      expect(refusalOf(table, value)).toBeUndefined();
  });
});
