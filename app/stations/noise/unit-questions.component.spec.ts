import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {expect, it} from 'vitest';
import {FlightStore, type OpenFlight} from '../../state/flight.store';
import {button, textOf} from '../../testing/fakes';
import {UnitQuestionsComponent} from './unit-questions.component';

const questions = [
  {about: 'gyro', taken: 'deg/s', others: ['rad/s'], text: 'The gyro names no unit.'},
  {about: 'speed', taken: 'rpm', others: ['eRPM', 'eRPM/100'], text: 'The speeds name no unit.'},
] as const;

function shown(asked: readonly (typeof questions)[number][]) {
  const said: unknown[] = [];
  const flights = {sayUnits: (units: unknown) => Promise.resolve(said.push(units)), current: signal(undefined)};
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

it('asks nothing where the log names its units', () => {
  expect(textOf(shown([]).host)).toBe('');
});
