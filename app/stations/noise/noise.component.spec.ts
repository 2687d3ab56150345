/** Noise: what is shown of a flight, what is called predicted, and what a craft without a flight is told. */
import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {afterEach, describe, expect, it} from 'vitest';
import type {Problem} from '@core/problem';
import {analyseNoise, type NoiseAnalysis} from '@core/noise/analysis';
import {readFlightLog} from '@core/noise/flight-log';
import {juniper} from '@demo/craft/juniper';
import {makeFlightCsv} from '@simulator/flights/flight';
import {FleetStore} from '../../state/fleet.store';
import {NoiseStore, type Flight} from '../../state/noise.store';
import {RecordStore} from '../../state/record.store';
import {button, buttons, textOf} from '../../testing/fakes';
import {withoutCharts} from '../../testing/chart-stub.component';
import {NoiseComponent} from './noise.component';

const log = readFlightLog(makeFlightCsv({seed: 5, seconds: 8, sampleRateHz: 2000, notches: undefined, note: ''}));
if (!log.ok) throw new Error(log.problem.meaning);
const chain = {harmonics: [1, 2], q: 5, minHz: 100, movingNotches: 0, gyroLowPassHz: 500};
const analysisOf = (poles: number) =>
  analyseNoise(log.value, {
    axis: 'roll',
    poles,
    planned: chain,
    found: {...chain, movingNotches: 2},
    filterRateHz: 8000,
  });
const flight: Flight = {id: 'own', craftId: 'juniper', label: 'flight 3', isDemo: false};
afterEach(() => TestBed.resetTestingModule());

function station(analysis: NoiseAnalysis | undefined, flights: readonly Flight[] = analysis ? [flight] : []) {
  const calls: string[] = [];
  const noise = {
    flights: signal(flights),
    flight: signal(flights[0]),
    axis: signal('roll'),
    analysis: signal(analysis),
    busy: signal<string | undefined>(undefined),
    share: signal(0),
    problem: signal<Problem | undefined>(undefined),
    openCraft: (id: string) => Promise.resolve(calls.push(`open ${id}`)),
    open: (f: Flight) => Promise.resolve(calls.push(f.id)),
    setAxis: (axis: string) => calls.push(axis),
    remove: (f: Flight) => calls.push(`remove ${f.id}`),
    cancel: () => calls.push('cancel'),
  };
  const set: unknown[] = [];
  TestBed.configureTestingModule({
    providers: [
      {provide: NoiseStore, useValue: noise},
      {provide: FleetStore, useValue: {current: signal(juniper), setController: (c: unknown) => set.push(c)}},
      {provide: RecordStore, useValue: {found: signal(undefined)}},
    ],
  });
  withoutCharts(NoiseComponent);
  const fixture = TestBed.createComponent(NoiseComponent);
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  return {noise, calls, set, fixture, host, text: () => textOf(host)};
}

describe('noise', () => {
  it('opens the flights of its craft; without one it says how to make one, and nothing about filters', () => {
    const {calls, text} = station(undefined);
    expect(calls).toEqual(['open juniper']);
    expect(text()).toContain('No flight of Juniper yet');
    expect(text()).toContain('time_us, throttle_pct, gyro_roll');
    expect(text()).not.toContain('Predicted');
    expect(text()).not.toContain('Delay at');
  });

  it('calls what is computed predicted, and no proof', () => {
    const {text} = station(analysisOf(14));
    expect(text()).toContain('Gyro roll, flight 3, 8 s at 2.0 kHz');
    expect(text()).toMatch(/Predicted for this flight-?\d+\.\d dB less noise/);
    expect(text()).toContain('It is no proof');
  });

  it('the ledger adds up, and stands beside what is on the craft', () => {
    const {host} = station(analysisOf(14));
    const figures = [...host.querySelectorAll('.ledger .n')].map((e) => Number(/[\d.]+/.exec(textOf(e))?.[0]));
    const together = [...host.querySelectorAll('.ledger .n.t')].map((e) => Number(/[\d.]+/.exec(textOf(e))?.[0]))[0]!;
    const [found] = figures.slice(-1);
    const parts = figures.slice(0, -2);
    expect(parts.reduce((sum, v) => sum + v, 0)).toBeCloseTo(together, 1);
    expect(found).toBeGreaterThan(together);
  });

  it('a wrong pole count is told with what to do', () => {
    const right = station(analysisOf(14)).text();
    expect(right).toContain('14 poles fits this flight');
    TestBed.resetTestingModule();
    // The log was made with 14; read as 12, the lines lie 14/12 too high.
    const wrong = station(analysisOf(12));
    expect(wrong.text()).not.toContain('12 poles fits');
  });

  it('shows what is being read, and can be cancelled', () => {
    const {noise, fixture, host, calls, text} = station(undefined);
    noise.busy.set('reading');
    noise.share.set(0.4);
    fixture.detectChanges();
    expect(text()).toContain('Reading the flight log');
    expect(host.querySelector('[role=progressbar]')!.getAttribute('aria-valuenow')).toBe('40');
    button(host, 'Cancel').click();
    expect(calls).toContain('cancel');
  });

  it('a problem keeps its place and remedy', () => {
    const {noise, fixture, text} = station(undefined);
    noise.problem.set({code: 'bad-log', place: 'line 7', meaning: 'No number.', remedy: 'Mend the line.'});
    fixture.detectChanges();
    expect(text()).toContain('line 7');
    expect(text()).toContain('Mend the line.');
  });

  it('a log of one’s own can be removed, a demo flight cannot', () => {
    const own = station(analysisOf(14));
    button(own.host, 'Remove this log').click();
    expect(own.calls).toContain('remove own');
    TestBed.resetTestingModule();
    const demo = station(analysisOf(14), [{...flight, isDemo: true}]);
    expect(demo.text()).toContain('computed for the demo');
    expect(buttons(demo.host).map(textOf)).not.toContain('Remove this log');
  });
});
