import {describe, expect, it} from 'vitest';
import {makeFlightCsv} from '@simulator/flight';
import {analyseNoise} from './analysis';
import {motorHz, readFlightLog, type FlightLog} from './flight-log';
import {findSpeedRatio} from './speed-ratio';

function flight(notches?: {harmonics: number[]; q: number; minHz: number}): FlightLog {
  const log = readFlightLog(makeFlightCsv({seed: 5, seconds: 8, sampleRateHz: 2000, notches, note: 'test'}));
  if (!log.ok) throw new Error(log.problem.meaning);
  return log.value;
}
const before = flight();
const planned = {harmonics: [1, 2, 3], q: 5, minHz: 100, movingNotches: 1, gyroLowPassHz: 500};

describe('a flight made by the physics', () => {
  it('says its rate, motors and notes', () => {
    expect(before).toMatchObject({sampleRateHz: 2000, notes: [expect.stringContaining('seed 5'), 'test']});
    expect(before.erpm).toHaveLength(4);
  });

  it('has its ridge on the logged speed with 14 poles, and at 12/14 of it when 12 are assumed', () => {
    const at = (poles: number) => findSpeedRatio(before, before.gyro.roll, motorHz(before, 0, poles), poles)!;
    expect(at(14).ratio).toBeCloseTo(1, 1.5);
    expect(at(14).fittingPoles).toBe(14);
    // Common practice: a wrong count shifts every notch by the ratio.
    expect(at(12).ratio).toBeCloseTo(12 / 14, 1.5);
    expect(at(12).fittingPoles).toBe(14);
  });

  it('loses its ridge when the controller ran the notches', () => {
    const after = flight(planned);
    expect(findSpeedRatio(after, after.gyro.roll, motorHz(after, 0, 14), 14)).toBeUndefined();
  });

  it('is predicted quieter by the planned notches than by notches for a wrong pole count', () => {
    const quiet = (poles: number) => analyseNoise(before, {axis: 'roll', poles, planned, found: undefined}).gainDb;
    expect(quiet(14)).toBeGreaterThan(6);
    expect(quiet(14)).toBeGreaterThan(quiet(10) + 2);
  });

  it('finds the frame resonance at 212 Hz among the strongest peaks', () => {
    const {peaks} = analyseNoise(before, {axis: 'roll', poles: 14, planned, found: planned});
    expect(peaks.some((p) => Math.abs(p.hz - 212) < 4)).toBe(true);
  });

  it('costs more delay with more filters', () => {
    const ledger = (chain: typeof planned) =>
      analyseNoise(before, {axis: 'roll', poles: 14, planned: chain, found: undefined}).planned;
    const all = ledger(planned);
    expect(all.map((e) => e.count)).toEqual([12, 1, 1]);
    expect(all.every((e) => e.delayMs > 0)).toBe(true);
    expect(ledger({...planned, harmonics: [1]})[0]!.delayMs).toBeLessThan(all[0]!.delayMs);
  });
});

describe('a broken flight log', () => {
  const header = 'time_us,throttle_pct,gyro_roll,gyro_pitch,gyro_yaw,erpm_1\n';
  const rows = (n: number) => Array.from({length: n}, (_, i) => `${i * 500},30,1,2,3,4000`).join('\n');
  it.each([
    ['', 'line 1', 'The header lacks time_us, throttle_pct, gyro_roll, gyro_pitch, gyro_yaw.'],
    [header, 'whole log', 'Only 0 rows; a spectrum needs at least 1024.'],
    [header + rows(2000).replace('500,30,1', '500,30,x'), 'line 3, column gyro_roll', '"x" is not a number.'],
    [
      '# note\n' + header + rows(2000).replace('\n1000,30,1,2,3,4000', '\n1000,30,1'),
      'line 5, column gyro_pitch',
      'The value is missing.',
    ],
    [header + Array.from({length: 1100}, () => '7,30,1,2,3,4000').join('\n'), 'line 2', 'The time does not advance.'],
  ])('%#: says place and meaning', (text, place, meaning) => {
    const reading = readFlightLog(text);
    expect(!reading.ok && [reading.problem.place, reading.problem.meaning]).toEqual([place, meaning]);
  });

  it('can be cancelled', () => {
    const reading = readFlightLog(header + rows(45_000), () => false);
    expect(!reading.ok && reading.problem.code).toBe('cancelled');
  });
});
