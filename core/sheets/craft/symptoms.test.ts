/** Where to look, by what a craft does: every place in words, with what is known of it. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {symptomNames, symptomSheet, type Measured, type Symptom} from './symptoms';

const nothing: Measured = {run: undefined, flight: undefined, breaches: []};
/** With what its labels say. */
const labelled = {
  ...juniper,
  motor: {...juniper.motor, amps: 40},
  battery: {...juniper.battery, amps: 150},
};
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
    for (const craft of [labelled, withEightMotors(labelled)])
      for (const look of ask(questionOf(craft))) {
        expect(look.why).toMatch(/^(?!It)\w/);
        if (look.tag === 'wait') expect(look.text).toMatch(/^No (run|flight) is open/);
        else expect(look.tag).toBe('ok');
      }
  });
});

const own: Measured = {
  run: {source: 'burst', report: {findings: [{kind: 'odd-kv', motor: 2, text: 'Motor 3: KV 4 % lower.'}]}},
  flight: {
    flight: {isDemo: false},
    summary: {
      report: {findings: [{kind: 'long-coast', text: 'Motor 3 takes 90 ms.', next: '', evidence: 'none'}]},
    },
  },
  breaches: [],
};

it('a finding of the flight or the run is told at its place, another one is not', () => {
  const looks = symptomSheet(questionOf(juniper), own, 'dips').looks;
  expect(looks.map((l) => [l.station, l.tag, l.text])).toEqual([
    ['noise', 'diff', 'Motor 3 takes 90 ms.'],
    ['spin', 'diff', 'Motor 3: KV 4 % lower.'],
    ['parameters', 'ok', 'Every ESC holds what is planned.'],
  ]);
  const rough = symptomSheet(emptyQuestion(juniper), own, 'rough').looks;
  expect(rough[0]).toMatchObject({station: 'noise', tag: 'ok'});
});

it('a run from a file and a flight of the demo say nothing of this craft', () => {
  const {run, flight} = own;
  const others = {run: {...run!, source: 'file'}, flight: {...flight!, flight: {isDemo: true}}, breaches: []};
  const [inFlight, onBench] = symptomSheet(questionOf(juniper), others, 'dips').looks;
  expect([inFlight!.word, onBench!.word]).toEqual(['open', 'open']);
});

it('currents are predicted, and held against labels that were entered', () => {
  const craftLine = (craft: typeof juniper, breaches: Measured['breaches'] = []) =>
    symptomSheet(questionOf(craft), {...nothing, breaches}, 'hot').looks.find((l) => l.station === 'craft');
  const breach = {
    id: 'motor-current',
    severity: 'warn',
    keys: [],
    remedy: '',
    place: '',
    meaning: '52 A of 40 A.',
  } as const;
  expect(craftLine(juniper)).toMatchObject({word: 'open', text: expect.stringContaining('highest currents')});
  expect(craftLine(labelled)).toMatchObject({word: 'predicted', tag: 'ok'});
  expect(craftLine(labelled, [breach])).toMatchObject({word: 'predicted', tag: 'diff', text: '52 A of 40 A.'});
});

it('what was seen earlier is told as that, with what happened since', () => {
  const later = questionOf(juniper, {now: undefined});
  const [seen] = symptomSheet(later, nothing, 'flips').looks;
  expect(seen).toMatchObject({tag: 'ok', text: expect.stringContaining('the bench is not connected now')});
  expect(seen!.word).not.toContain('current');
});
