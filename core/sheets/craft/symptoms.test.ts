/** Where to look, by what a craft does: every place in words, with what is known of it. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {symptomNames, symptomSheet, type Symptom} from './symptoms';

const nothing = {run: undefined, flight: undefined};
const symptoms = Object.keys(symptomNames) as Symptom[];

it('offers every symptom, and no place before one is chosen', () => {
  const {choices, looks} = symptomSheet(emptyQuestion(juniper), nothing, undefined);
  expect(choices.map((c) => c.value)).toEqual(symptoms);
  expect(looks).toEqual([]);
});

describe.each(symptoms)('%s', (symptom) => {
  const ask = (q: Parameters<typeof symptomSheet>[0], measured = nothing) => symptomSheet(q, measured, symptom).looks;

  it('of an empty craft all that is measured is open, with what to do', () => {
    const looks = ask(emptyQuestion(juniper));
    expect(looks.length).toBeGreaterThanOrEqual(3);
    for (const look of looks) {
      expect(look.text).not.toBe('');
      if (look.station !== 'craft') expect(look).toMatchObject({tag: 'wait', word: 'open'});
    }
  });

  it('of a proven craft, of four motors and of eight, only run and flight are open', () => {
    for (const craft of [juniper, withEightMotors(juniper)])
      for (const look of ask(questionOf(craft))) {
        expect(look.why).toMatch(/^(?!It)\w/);
        if (look.tag === 'wait') expect(look.text).toMatch(/^No (run|flight) is open/);
        else expect(look.tag).toBe('ok');
      }
  });
});

it('a finding of the flight or the run is told at its place, another one is not', () => {
  const flight = [{kind: 'long-coast' as const, text: 'Motor 3 takes 90 ms.', next: '', evidence: 'none' as const}];
  const run = [{kind: 'odd-kv' as const, motor: 2, text: 'Motor 3: KV 4 % lower.'}];
  const looks = symptomSheet(questionOf(juniper), {run, flight}, 'dips').looks;
  expect(looks.map((l) => [l.station, l.tag, l.text])).toEqual([
    ['noise', 'diff', 'Motor 3 takes 90 ms.'],
    ['spin', 'diff', 'Motor 3: KV 4 % lower.'],
    ['parameters', 'ok', 'Every ESC holds what is planned.'],
  ]);
  const rough = symptomSheet(emptyQuestion(juniper), {run, flight}, 'rough').looks;
  expect(rough[0]).toMatchObject({station: 'noise', tag: 'ok'});
});
