/** Survey and Sign-off, from what was found on the simulated bench. */
import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {provideRouter} from '@angular/router';
import {juniper} from '@demo/craft/juniper';
import type {Found} from '@core/bench/found';
import {proofOf} from '@core/testing/proof-of';
import {Harness} from '@simulator/testing/bench-harness';
import {BenchStore} from '../state/bench.store';
import {StandInStore} from '../state/stand-in.store';
import {FleetStore} from '../state/fleet.store';
import {RecordStore} from '../state/record.store';
import {CraftQuestionStore} from '../state/craft-question.store';
import {fakeRecord} from '../testing/fake-record';
import {button, buttons, fakeBench, fakeStandIn, textOf} from '../testing/fakes';
import {SignOffComponent} from './sign-off/sign-off.component';
import {SurveyComponent} from './survey/survey.component';

const asFound = await new Harness().survey();

function bed(found: Found | undefined, change: (b: ReturnType<typeof fakeBench>) => void = () => undefined) {
  const bench = fakeBench();
  change(bench);
  const record = fakeRecord({found, foundPlace: 1, count: 9});
  TestBed.configureTestingModule({
    providers: [
      provideRouter([]),
      {provide: BenchStore, useValue: bench},
      {provide: StandInStore, useValue: fakeStandIn(bench.calls)},
      {provide: FleetStore, useValue: {current: signal(juniper)}},
      {provide: RecordStore, useValue: record},
    ],
  });
  return {bench, record};
}

describe('survey', () => {
  function survey(found: Found | undefined, change?: (b: ReturnType<typeof fakeBench>) => void) {
    const {bench} = bed(found, change);
    const fixture = TestBed.createComponent(SurveyComponent);
    fixture.detectChanges();
    return {bench, host: fixture.nativeElement as HTMLElement, text: textOf(fixture.nativeElement)};
  }

  it('lists every ESC and says what stands out', () => {
    const {host, text} = survey(asFound);
    expect(host.querySelectorAll('p-table tbody tr')).toHaveLength(4);
    expect(text).toContain('motor 3 runs Meridian 3.7, its siblings do not. Left behind at an update.');
    expect(text).toContain('Active braking, motor 3: off → on. In flight: that arm dips at every throttle cut.');
    expect(text).toContain('7 fields of the flight controller are not as planned.');
    expect(text).not.toContain('stale');
  });

  it.each([
    ['another power-up', (b: ReturnType<typeof fakeBench>) => b.power.set({volts: 24, amps: 0, cycles: 2})],
    ['no battery', (b: ReturnType<typeof fakeBench>) => b.isPowered.set(false)],
    ['no cable', (b: ReturnType<typeof fakeBench>) => b.isConnected.set(false)],
  ])('calls found data stale after %s', (_, change) => {
    expect(survey(asFound, change).text).toContain('stale: battery or cable was out since');
  });

  it('a silent ESC is told with its remedy and does not hide the others', () => {
    const problem = {code: 'no-power', place: 'esc.enter', meaning: 'It has no power.', remedy: 'Check its wire.'};
    const {host, text} = survey({...asFound, escs: asFound.escs.slice(0, 3), silent: [{output: 3, problem}]});
    expect(host.querySelectorAll('p-table tbody tr')).toHaveLength(3);
    expect(text).toContain('Motor 4, front left, is silent It has no power. Check its wire.');
  });

  it('a half-written ESC is named as such', () => {
    const broken = {
      ...asFound,
      escs: asFound.escs.map((e) =>
        e.output === 1
          ? {...e, boot: {...e.boot, applicationValid: false}, identity: undefined, settings: undefined}
          : e,
      ),
    };
    expect(survey(broken).text).toContain('no application, stays in its bootloader');
  });

  it('can be repeated, but not while something has the wires', () => {
    const {host, bench} = survey(asFound);
    button(host, 'Survey again').click();
    expect(bench.calls).toEqual(['survey']);
    TestBed.resetTestingModule();
    expect(buttons(survey(asFound, (b) => b.occupied.set(true)).host).map(textOf)).not.toContain('Survey again');
  });
});

describe('sign-off', () => {
  function signOff(change: (record: ReturnType<typeof bed>['record']) => void = () => undefined) {
    const {record} = bed(asFound);
    change(record);
    TestBed.inject(CraftQuestionStore);
    const fixture = TestBed.createComponent(SignOffComponent);
    fixture.detectChanges();
    const host = fixture.nativeElement as HTMLElement;
    return {
      host,
      rows: [...host.querySelectorAll('tbody tr')].map((tr) => [...tr.children].map(textOf).join(' ')),
      status: textOf(host.querySelector('[role=status]')),
    };
  }

  it('says what is open, and where to get it', () => {
    const {rows, status, host} = signOff();
    expect(status).toBe('✗ must not fly 9 open; Juniper is not proven.');
    expect(rows).toHaveLength(13);
    expect(rows[11]).toBe('Predicted, not proven');
    expect(rows[12]).toContain('none yet Notches on the noise');
    expect(rows[0]).toContain('✓ current Everything answers 4 ESCs and the flight controller');
    expect(rows[4]).toContain(
      '✗ must not fly Propeller direction: motors and flight controller agree Planned is props out; the flight controller is set to props in.',
    );
    expect(rows[5]).toContain('open Motors alike and plausible Hold the motor card on the Spin station.');
    expect(rows[6]).toContain('open No reply lost Not measured yet.');
    expect(rows[7]).toContain('open The board sits as set The craft has not been tilted yet.');
    expect(rows[9]).toContain('open Motors stop on signal loss');
    expect(rows[10]).toContain('✓ current Has its own arm switch');
    expect(host.querySelector('tbody.predicted a')!.getAttribute('href')).toBe('/craft/juniper/noise');
  });

  it('a proof does not hold against a bench that is not as planned', () => {
    const {rows} = signOff((record) =>
      record.change(() => ({proofs: [proofOf('pages', juniper, {place: 0, text: '164 of 164 page checksums equal'})]})),
    );
    expect(rows[1]).toContain('Same firmware, page by page 164 of 164');
    expect(rows[1]).toMatch(/^(open|○ no longer valid) /);
  });
});
