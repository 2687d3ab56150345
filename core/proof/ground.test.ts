/** What a proof was taken from is held against what is there now, key by key. */
import {describe, expect, it} from 'vitest';
import {compareGrounds, keptGrounds, type KnownGround} from './ground';

const known = (key: string, value: KnownGround['value'], over: Partial<KnownGround> = {}): KnownGround => ({
  ...{key, value, name: key},
  ...over,
});

describe('grounds', () => {
  it('that are as they were are no change', () =>
    expect(
      compareGrounds(
        [
          {key: 'a', value: 1},
          {key: 'b', value: [1, 2]},
        ],
        [known('a', 1), known('b', [1, 2])],
      ),
    ).toEqual({
      changes: [],
      unread: [],
    }));

  it('a value that differs is named with both, in its own words', () => {
    const shown = (v: string | number | boolean) => `${v} kHz`;
    expect(compareGrounds([{key: 'a', value: 24}], [known('a', 48, {name: 'the PWM', shown})]).changes).toEqual([
      'the PWM was 24 kHz and is 48 kHz',
    ]);
    const sentence = (was: string, is: string) => `${was} became ${is}`;
    expect(compareGrounds([{key: 'a', value: 24}], [known('a', 48, {shown, sentence})]).changes).toEqual([
      '24 kHz became 48 kHz',
    ]);
  });

  it('of a list only the motors that differ are named', () =>
    expect(compareGrounds([{key: 'a', value: [1, 2, 3]}], [known('a', [1, 5, 3])]).changes).toEqual([
      'a of motor 2 was 2 and is 5',
    ]));

  it('what nobody has read since is unread, and no change', () => {
    expect(compareGrounds([{key: 'a', value: 1}], [])).toEqual({changes: [], unread: ['a']});
    expect(compareGrounds([{key: 'a', value: [1, 2]}], [known('a', [1, null])])).toEqual({changes: [], unread: ['a']});
  });

  it('what reads the same on another part is unread however often it is read, and no change', () => {
    const twins = known('esc', ['a', 'a', 'b'], {unsure: [true, true, false], name: 'the ESC'});
    expect(compareGrounds([{key: 'esc', value: ['a', 'a', 'b']}], [twins])).toEqual({
      ...{changes: [], unread: ['the ESC']},
    });
    expect(compareGrounds([], [twins]).unread).toEqual([]);
  });

  it('of two alike, one that is left may be either: what was kept while there were two stays unread', () => {
    const twins = known('esc', ['a', 'a', 'b'], {unsure: [true, true, false], name: 'the ESC'});
    const kept = keptGrounds([twins]);
    const left = known('esc', ['a', 'c', 'b'], {unsure: [false, false, false], name: 'the ESC'});
    expect(compareGrounds(kept, [left])).toEqual({
      changes: ['the ESC of motor 2 was a and is c'],
      unread: ['the ESC'],
    });
    expect(keptGrounds([known('esc', ['a', 'b'], {unsure: [false, false]})])).toEqual([
      {key: 'esc', value: ['a', 'b']},
    ]);
  });

  it('what came into play since is a change: it was not measured with it', () => {
    expect(compareGrounds([], [known('a', 1)]).changes).toEqual(['a was not part of it']);
    expect(compareGrounds([{key: 'a', value: [1, null]}], [known('a', [1, 2])]).changes).toEqual([
      'a of motor 2 was not part of it',
    ]);
    expect(compareGrounds([{key: 'a', value: [1]}], [known('a', [1, 2])]).changes).toEqual([
      'a of motor 2 was not part of it',
    ]);
    expect(compareGrounds([{key: 'a', value: [1, 2]}], [known('a', [1])]).changes).toEqual([
      'a was of 2 motors and is of 1',
    ]);
  });

  it('zero, false and an empty text are values like any other', () =>
    expect(
      compareGrounds(
        [
          {key: 'a', value: 0},
          {key: 'b', value: false},
          {key: 'c', value: ''},
        ],
        [known('a', 0), known('b', false), known('c', '')],
      ),
    ).toEqual({changes: [], unread: []}));
});
