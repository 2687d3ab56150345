import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {Harness} from '@simulator/testing/bench-harness';
import received from '../../../demo/catalogue.json';
import type {Catalogue} from '../../firmware/releases';
import {emptyQuestion, questionOf} from '../../testing/question-of';
import {startSounds, typicalTones} from './start-sounds';

const {releases} = JSON.parse(received.catalogue) as Catalogue;

describe('what ESCs sound after power-up', () => {
  it('is what is typical while no catalogue says more', () => {
    for (const q of [undefined, emptyQuestion(juniper), questionOf(juniper)])
      expect(startSounds(q)).toEqual([
        {
          of: '',
          tones: typicalTones,
          text: 'three rising tones say that an ESC has power and runs its firmware; two rising tones more that it receives the throttle signal.',
        },
      ]);
  });

  it('is what the firmware does that each motor runs', async () => {
    const q = {...questionOf(juniper, {record: {found: await new Harness().survey()}}), releases};
    const sounds = startSounds(q);
    expect(sounds.map((s) => s.of)).toEqual(['Meridian 3.9 and Meridian 3.7']);
    const mixed = q.record.found!.escs.map((e, i) =>
      i === 2 ? {...e, identity: {...e.identity!, version: '4.2'}} : e,
    );
    const found = {...q.record.found!, escs: mixed};
    expect(startSounds({...q, record: {...q.record, found}}).map((s) => s.of)).toEqual([
      ...['Meridian 3.9, motors 1, 2 and 4', 'Meridian 4.2, motor 3'],
    ]);
    expect(startSounds({...questionOf(juniper), releases})).toMatchObject([
      {of: 'Meridian 4.2', text: expect.stringMatching(/^four rising tones .*; two falling tones more/)},
    ]);
  });

  it('is that of the planned firmware before anything was found', () =>
    expect(startSounds({...emptyQuestion(juniper), releases})[0]?.of).toBe('Meridian 4.2, as planned'));
});
