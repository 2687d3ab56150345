/** The form of the filters: what a plan is silent about is the craft's, what firmware lacks is told, each field edits the plan. */
import {TestBed} from '@angular/core/testing';
import {afterEach, expect, it} from 'vitest';
import {configFromWire} from '@core/controller/wire';
import type {ControllerConfig} from '@core/controller/plan';
import {emptyQuestion, questionOf} from '@core/testing/question-of';
import {foundWith} from '@core/testing/with-config';
import {juniper} from '@demo/craft/juniper';
import {juniperController} from '@simulator/benches/juniper';
import {CraftQuestionStore} from '../../../state/craft-question.store';
import {FleetStore} from '../../../state/fleet.store';
import {fakeQuestion} from '../../../testing/fakes';
import {FilterFormComponent} from './filter-form.component';

afterEach(() => TestBed.resetTestingModule());

function form(config?: ControllerConfig) {
  const set: unknown[] = [];
  const q = config ? questionOf(juniper, {record: {found: foundWith(juniper, config)}}) : emptyQuestion(juniper);
  TestBed.configureTestingModule({
    providers: [
      {provide: FleetStore, useValue: {setController: (c: unknown) => set.push(c)}},
      {provide: CraftQuestionStore, useValue: fakeQuestion(q)},
    ],
  });
  const fixture = TestBed.createComponent(FilterFormComponent);
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  const field = (name: string) => host.querySelector<HTMLInputElement>(`#${name}`)!;
  const up = (name: string) => {
    const button = field(name).closest('p-inputnumber')!.querySelector<HTMLElement>('.p-inputnumber-increment-button')!;
    button.dispatchEvent(new MouseEvent('mousedown', {bubbles: true}));
    button.dispatchEvent(new MouseEvent('mouseup', {bubbles: true}));
    fixture.detectChanges();
  };
  // A field's value comes a turn later than its form.
  const settle = async () => {
    await fixture.whenStable();
    fixture.detectChanges();
    await fixture.whenStable();
  };
  return {set, host, field, up, settle};
}

it('shows what the craft has where the plan is silent, and edits the plan field by field', async () => {
  const {set, field, up, settle} = form({...configFromWire(juniperController), movingQ: 7, notchWeights: [100, 40]});
  await settle();
  expect([field('moving-q').value, field('weight-2').value, field('weight-3').value]).toEqual(['7', '40 %', '100 %']);
  up('moving-q');
  up('fade');
  up('weight-2');
  expect(set).toEqual([{movingQ: 7.5}, {notchFadeHz: 10}, {notchWeights: [100, 50, 100]}]);
});

it('greys what the firmware of the craft does not have, and says so', async () => {
  const lacking = {dLowPass: undefined, dLowPassFullHz: undefined, notchFadeHz: undefined};
  const older: ControllerConfig = {...configFromWire(juniperController), ...lacking};
  const {host, field, settle} = form(older);
  await settle();
  expect(host.textContent).toContain('does not have what is greyed here');
  expect([field('fade').disabled, field('d-low-full').disabled, field('d-low-hz').disabled]).toEqual([
    true,
    true,
    false,
  ]);
  // Before a survey nobody knows: then everything can be planned.
  TestBed.resetTestingModule();
  const fresh = form();
  await fresh.settle();
  expect(fresh.field('fade').disabled).toBe(false);
});
