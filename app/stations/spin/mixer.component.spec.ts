/** The mixer as a file: opened and planned, and one that is none planned by nobody. */
import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {afterEach, describe, expect, it} from 'vitest';
import {plannedMixer} from '@core/craft/own-mixer';
import type {Craft} from '@core/craft/craft';
import {mixerFile} from '@core/sheets/craft/mixer';
import {judgedCraft} from '@core/sheets/craft-question';
import {questionOf} from '@core/testing/question-of';
import {juniper} from '@demo/craft/juniper';
import {Harness} from '@simulator/testing/bench-harness';
import {FleetStore} from '../../state/fleet.store';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {button, textOf} from '../../testing/fakes';
import {MixerComponent} from './mixer.component';

const found = await new Harness().survey();
afterEach(() => TestBed.resetTestingModule());

function mixer() {
  const craft = signal<Craft>(juniper);
  const judged = () => judgedCraft(questionOf(craft(), {record: {found}}));
  TestBed.configureTestingModule({
    providers: [
      {provide: FleetStore, useValue: {edit: (change: (c: Craft) => Craft) => craft.update(change)}},
      {
        provide: CraftQuestionStore,
        useValue: {
          judged,
          sheet:
            <T>(of: (q: ReturnType<typeof judged>) => T) =>
            () =>
              of(judged()),
        },
      },
    ],
  });
  const fixture = TestBed.createComponent(MixerComponent);
  const host = fixture.nativeElement as HTMLElement;
  const show = () => {
    fixture.changeDetectorRef.markForCheck();
    fixture.detectChanges();
    return textOf(host);
  };
  show();
  const open = async (text: string) => {
    const field = host.querySelector<HTMLInputElement>('input[type=file]')!;
    Object.defineProperty(field, 'files', {
      ...{configurable: true, value: [{name: 'of-a-friend.csv', text: () => Promise.resolve(text)}]},
    });
    field.dispatchEvent(new Event('change'));
    await fixture.whenStable();
    await new Promise((done) => setTimeout(done, 10));
    return show();
  };
  return {craft, host, show, open, judged};
}

describe('the mixer of the flight controller', () => {
  it('is planned by one press, and left as found by another', () => {
    const {craft, host, show} = mixer();
    expect(show()).toContain('that of its airframe');
    button(host, 'Plan this mixer').click();
    expect(show()).toContain('the one computed here, 4 rows');
    expect(plannedMixer(craft().plan.settings)).toHaveLength(4);
    button(host, 'Leave it as found').click();
    expect([craft().plan.settings, show().includes('as found')]).toEqual([undefined, true]);
  });

  it('comes from a file; one that is none leaves the plan as it was', async () => {
    const {craft, open, judged} = mixer();
    expect(await open('roll,pitch\n1,2')).toContain('of-a-friend.csv: It has 2 rows');
    expect(craft()).toBe(juniper);
    const shown = await open(mixerFile(judged()).text);
    expect(shown).toContain('the one computed here, 4 rows');
    expect(shown).not.toContain('No mixer was planned');
  });
});
