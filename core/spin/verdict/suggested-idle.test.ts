import {describe, expect, it} from 'vitest';
import type {MotorReport} from '../../motion/report';
import {suggestedIdle} from './suggested-idle';
import type {Sighting} from '../sighting/sighting';

const seen = (output: number, startsUs: readonly number[], at = 1): Sighting =>
  ({output, arm: output, startsUs, startsAtUs: startsUs[0], at}) as unknown as Sighting;
const told = (value: number, high: number) =>
  ({startsAtPercent: {value, low: value - 0.1, high}}) as unknown as MotorReport;
const card = (...highs: number[]) => ({
  at: 7,
  motors: highs.map((high) => told(high - 0.2, high)),
  alone: highs.map(() => ({turned: true, others: [] as number[]})),
});

describe('one idle, whoever shows it', () => {
  it('is the later of both sources, with the name of the one that it comes from', () => {
    const sightings = [seen(0, [1018]), seen(1, [1024], 5)];
    expect(suggestedIdle({sightings, motors: 2, card: undefined})).toMatchObject({from: 'holds', at: 5, percent: 3.9});
    expect(suggestedIdle({sightings, motors: 2, card: card(2.1, 2.6)})).toMatchObject({
      ...{from: 'motor card', motor: 1, percent: 4.1, at: 7},
    });
    expect(suggestedIdle({sightings, motors: 2, card: card(1.9, 2.0)})).toMatchObject({from: 'holds', percent: 3.9});
  });

  it('is none while a motor’s start is known to neither', () => {
    expect(suggestedIdle({sightings: [seen(0, [1018])], motors: 2, card: undefined})).toBeUndefined();
    expect(suggestedIdle({sightings: [seen(0, [1018])], motors: 2, card: card(2.1)})).toBeUndefined();
    expect(suggestedIdle({sightings: [seen(0, [1018])], motors: 2, card: card(2.1, 2.3)})).toMatchObject({motor: 1});
  });

  it('takes nothing from a card where it is not known whose replies are whose', () => {
    const crossed = [
      {turned: true, others: [1]},
      {turned: true, others: []},
    ];
    for (const alone of [undefined, crossed])
      expect(suggestedIdle({sightings: [], motors: 2, card: {...card(2.1, 2.3), alone}})).toBeUndefined();
  });
});
