import {TestBed} from '@angular/core/testing';
import {expect, it} from 'vitest';
import type {UnitQuestion} from '@core/flight/guess-units';
import {FlightStore} from '../../state/flights/flight.store';
import {button, textOf} from '../../testing/fakes';
import {UnitQuestionsComponent} from './unit-questions.component';

const questions = [
  {about: 'gyro', taken: 'deg/s', others: ['rad/s'], text: 'The gyro names no unit.'},
  {about: 'speed', taken: 'rpm', others: ['eRPM', 'eRPM/100'], text: 'The speeds name no unit.'},
] as const satisfies readonly UnitQuestion[];

function shown(asked: readonly UnitQuestion[]) {
  const said: unknown[] = [];
  const flights = {
    sayUnits: (units: unknown) => Promise.resolve(said.push(units)),
    remap: () => Promise.resolve(said.push('remap')),
  };
  TestBed.configureTestingModule({providers: [{provide: FlightStore, useValue: flights}]});
  const fixture = TestBed.createComponent(UnitQuestionsComponent);
  fixture.componentRef.setInput('open', {summary: {questions: asked}});
  fixture.detectChanges();
  return {fixture, said, host: fixture.nativeElement as HTMLElement};
}

it('asks for units that were guessed where another fits too, and reads the log with what is said', () => {
  const {host, said, fixture} = shown(questions);
  expect(textOf(host)).toContain('Check the units of this log');
  expect(textOf(host)).toContain('The gyro names no unit.');
  const choices = [...host.querySelectorAll<HTMLElement>('p-togglebutton')];
  expect(choices.map(textOf)).toEqual(['deg/s', 'rad/s', 'rpm', 'eRPM', 'eRPM/100']);
  choices[1]!.click();
  fixture.detectChanges();
  button(host, 'Read the log with these units').click();
  expect(said).toEqual([{gyro: 'rad/s', speed: 'rpm'}]);
});

it('raw steps whose size nobody knows lead to the columns; a unit that alone fits is not asked', () => {
  const {host, said} = shown([
    {about: 'gyro', taken: 'raw', others: [], text: 'Say what one step is.'},
    {about: 'speed', taken: 'eRPM', others: [], text: 'Speeds are taken for eRPM.'},
  ]);
  expect(textOf(host)).toBe('Check the units of this logSay what one step is.Say what its columns hold');
  button(host, 'Say what its columns hold').click();
  expect(said).toEqual(['remap']);
});

it('asks nothing where the log names its units', () => {
  expect(textOf(shown([]).host)).toBe('');
});
