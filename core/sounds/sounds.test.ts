/** RTTTL as Nokia's format has it, and the block of an ESC. Expected pitches are of equal temperament with A4 = 440 Hz. */
import {describe, expect, it} from 'vitest';
import * as fc from 'fast-check';
import {codableMelody, melodyIn, melodyLimits, melodyText, withMelody} from './melody-block';
import {durations, hzOf, melodyMs, noteMs, readRtttl, writeRtttl, type Melody, type Note} from './rtttl';

const read = (text: string): Melody => {
  const melody = readRtttl(text);
  if (!melody.ok) throw new Error(`${melody.problem.place}: ${melody.problem.meaning}`);
  return melody.value;
};

const note: fc.Arbitrary<Note> = fc.record({
  pitch: fc.option(fc.integer({min: 60, max: 107}), {nil: undefined}),
  duration: fc.constantFrom(...durations),
  dotted: fc.boolean(),
});
const melody: fc.Arbitrary<Melody> = fc.record({
  name: fc.constantFrom('', 'rise', 'Two words'),
  beats: fc.integer({min: 25, max: 900}),
  notes: fc.array(note, {minLength: 1, maxLength: melodyLimits.notes}),
});

describe('RTTTL', () => {
  it('reads name, defaults and notes', () => {
    expect(read('scale:d=8,o=5,b=120:c,4d#6.,p,2a4')).toEqual({
      name: 'scale',
      beats: 120,
      notes: [
        {pitch: 72, duration: 8, dotted: false},
        {pitch: 87, duration: 4, dotted: true},
        {pitch: undefined, duration: 8, dotted: false},
        {pitch: 69, duration: 2, dotted: false},
      ],
    });
  });

  it('takes d=4, o=6, b=63 where nothing is named (the format’s defaults), capitals, blanks, a dot before the octave', () => {
    expect(read('x::A').notes[0]).toEqual({pitch: 93, duration: 4, dotted: false});
    expect(read('x::a').beats).toBe(63);
    expect(read('x: D=16 , O=4 :  8F#.5 , P ').notes).toEqual([
      {pitch: 78, duration: 8, dotted: true},
      {pitch: undefined, duration: 16, dotted: false},
    ]);
  });

  it('A4 is 440 Hz, an octave doubles, C4 is 261.63 Hz (ISO 16, equal temperament)', () => {
    expect(hzOf(69)).toBe(440);
    expect(hzOf(81)).toBeCloseTo(880, 9);
    expect(hzOf(60)).toBeCloseTo(261.626, 3);
  });

  it('a quarter at 120 lasts half a second, with a dot three quarters', () => {
    const {notes, ...rest} = read('x:d=4,b=120:a,a.,32a');
    expect(notes.map((n) => noteMs(rest, n))).toEqual([500, 750, 62.5]);
    expect(melodyMs({...rest, notes})).toBe(1312.5);
  });

  it.each([
    ['no colons', 'text', '1 parts between colons'],
    ['x:d=3:c', 'character 3', 'A duration is 1, 2, 4, 8, 16, 32, not 3.'],
    ['x:d=4,o=9:c', 'character 7', 'An octave is 4 to 7'],
    ['x:b=10:c', 'character 3', 'Beats a minute are 25 to 900'],
    ['x:q=4:c', 'character 3', '"q=4" is not a default.'],
    ['x:d=4:c,k,e', 'character 9', '"k" is not a note.'],
    ['x:d=4:c,,e', 'character 9', '"" is not a note.'],
    ['x:d=4:c, 5e', 'character 10', '"5e" is not a note.'],
    ['x:d=4:', 'character', 'no notes'],
    ['x:d=4:c3', 'character 7', '"c3" is not a note.'],
  ])('%s is refused with its place', (text, place, meaning) => {
    const result = readRtttl(text);
    expect(result.ok).toBe(false);
    if (result.ok) return;
    expect(result.problem.place).toContain(place);
    expect(result.problem.meaning).toContain(meaning);
    expect(result.problem.remedy).not.toBe('');
  });

  it('any melody is written and read back', () => {
    fc.assert(
      fc.property(melody, (m) => {
        expect(read(writeRtttl(m))).toEqual(m);
      }),
      {seed: 11, numRuns: 300},
    );
  });
});

describe('the block of an ESC', () => {
  const page = Uint8Array.from({length: 1024}, (_, i) => (i * 7) & 0xff);

  it('any melody within the limits is kept, and nothing else on the page changes', () => {
    fc.assert(
      fc.property(melody, (m) => {
        const kept = withMelody(page, m);
        expect(melodyText(melodyIn(kept))).toBe(melodyText(m));
        const end = 128 + 5 + 2 * m.notes.length + 2;
        expect(kept.filter((_, i) => i < 128 || i >= end)).toEqual(page.filter((_, i) => i < 128 || i >= end));
      }),
      {seed: 12, numRuns: 200},
    );
  });

  it('one flipped bit anywhere in it is no melody any more', () => {
    const kept = withMelody(page, read('x:d=8,o=5,b=200:c,e,g'));
    for (let at = 128; at < 128 + 5 + 6 + 2; at++) {
      const bent = kept.slice();
      bent[at]! ^= 1;
      expect(melodyIn(bent), `byte ${at}`).toBeUndefined();
    }
  });

  it('an empty page and a short one have none', () => {
    expect(melodyIn(new Uint8Array(1024).fill(0xff))).toBeUndefined();
    expect(melodyIn(new Uint8Array(130))).toBeUndefined();
  });

  it('refuses more than 64 notes and more than 8 s, with what to do', () => {
    const many = codableMelody(`x:d=32,b=900:${Array.from({length: 65}, () => 'c').join(',')}`);
    const long = codableMelody('x:d=1,o=5,b=60:c,c,c');
    expect([many.ok, long.ok]).toEqual([false, false]);
    expect(!many.ok && many.problem.meaning).toBe('It has 65 notes; an ESC keeps 64.');
    expect(!long.ok && long.problem.meaning).toBe('It lasts 12.0 s; the motor waits for it, so 8 s is the most.');
  });
});
