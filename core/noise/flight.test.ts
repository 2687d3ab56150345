import {describe, expect, it} from 'vitest';
import {makeFlightCsv} from '@simulator/flights/flight';
import {analyseNoise} from './analysis';
import {readFlightLog, type FlightLog} from './flight-log';
import {strongestPeaks} from './peaks';
import {findPoleCount} from './pole-count';
import {welch} from './welch';

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

  const polesOf = (log: FlightLog, plannedPoles: number) =>
    findPoleCount({gyro: log.gyro.roll, sampleRateHz: log.sampleRateHz, erpm: log.erpm, plannedPoles});

  it('has its ridge on the logged speed with 14 poles, and at 12/14 of it when 12 are assumed', () => {
    expect(polesOf(before, 14)).toMatchObject({kind: 'found', poles: 14, ratio: expect.closeTo(1, 1.5)});
    // Common practice: a wrong count shifts every notch by the ratio.
    expect(polesOf(before, 12)).toMatchObject({kind: 'found', poles: 14, ratio: expect.closeTo(12 / 14, 1.5)});
  });

  it('loses its ridge when the controller ran the notches', () => {
    expect(polesOf(flight(planned), 14)).toMatchObject({kind: 'unclear'});
  });

  it('is predicted quieter by the planned notches than by notches for a wrong pole count', () => {
    const quiet = (poles: number) =>
      analyseNoise(before, {axis: 'roll', poles, planned, found: undefined, filterRateHz: 8000}).gainDb;
    expect(quiet(14)).toBeGreaterThan(6);
    expect(quiet(14)).toBeGreaterThan(quiet(10) + 2);
  });

  it('finds the frame resonance at 212 Hz among the strongest peaks', () => {
    const {peaks} = analyseNoise(before, {axis: 'roll', poles: 14, planned, found: planned, filterRateHz: 8000});
    expect(peaks.some((p) => Math.abs(p.hz - 212) < 4)).toBe(true);
  });

  it('costs more delay with more filters', () => {
    const ledger = (chain: typeof planned) =>
      analyseNoise(before, {axis: 'roll', poles: 14, planned: chain, found: undefined, filterRateHz: 8000}).planned;
    const all = ledger(planned);
    expect(all.map((e) => e.count)).toEqual([12, 1, 1]);
    expect(all.every((e) => e.delayMs! > 0)).toBe(true);
    expect(ledger({...planned, harmonics: [1]})[0]!.delayMs).toBeLessThan(all[0]!.delayMs!);
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

  it('an open quote eats no rows and puts no book into a message', () => {
    const reading = readFlightLog(header + rows(2000).replace('500,30,1', '"500,30,1') + 'x'.repeat(100_000));
    expect(!reading.ok && reading.problem.place).toBe('line 3, column time_us');
    expect(!reading.ok && reading.problem.meaning).toBe('""500" is not a number.');
    const long = readFlightLog(header + rows(2000).replace('500,30,1', `500,30,${'9x'.repeat(5_000)}`));
    expect(!long.ok && long.problem.meaning.length).toBeLessThan(80);
  });

  it('a log of short whole numbers without motors is read whole', () => {
    const text = 'time_us,throttle_pct,gyro_roll,gyro_pitch,gyro_yaw\n';
    const reading = readFlightLog(text + Array.from({length: 60_000}, (_, i) => `${i * 9},1,2,3,4`).join('\n'));
    expect(reading.ok && [reading.value.gyro.yaw.length, reading.value.erpm.length]).toEqual([60_000, 0]);
  });

  it('lines are counted as the file has them, blank ones too', () => {
    const text = '# note\n' + header + rows(1500).replace('\n1000,', '\n\n\n1000,').replace('1500,30,1', '1500,30,?');
    const reading = readFlightLog(text);
    expect(!reading.ok && reading.problem.place).toBe('line 8, column gyro_roll');
  });

  it('can be cancelled', () => {
    const reading = readFlightLog(header + rows(45_000), () => false);
    expect(!reading.ok && reading.problem.code).toBe('cancelled');
  });
});

describe('the time base of a log', () => {
  const header = 'time_us,throttle_pct,gyro_roll,gyro_pitch,gyro_yaw,erpm_1\n';
  /** A line at 80 Hz, sampled every 500 µs; `timeOf` gives each row its time. */
  const log = (timeOf: (row: number) => number, count = 40_000) => {
    const body = Array.from({length: count}, (_, i) => {
      const t = timeOf(i);
      return `${t},30,${(20 * Math.sin(2 * Math.PI * 80 * (t / 1e6))).toFixed(3)},0,0,4000`;
    });
    const reading = readFlightLog(header + body.join('\n'));
    if (!reading.ok) throw new Error(reading.problem.meaning);
    return reading.value;
  };
  const strongestHz = ({gyro, sampleRateHz}: FlightLog) => strongestPeaks(welch(gyro.roll, sampleRateHz, 4096))[0]!.hz;

  it('a pause of 10 s is told and left out: 80 Hz read as 80 Hz', () => {
    const paused = log((i) => i * 500 + (i >= 12_000 ? 10_000_000 : 0));
    expect(paused.sampleRateHz).toBe(2000);
    expect(strongestHz(paused)).toBeCloseTo(80, 0);
    expect(paused.gyro.roll).toHaveLength(28_000);
    expect(paused.notes).toEqual([
      'A pause of 10.0 s at line 12002',
      'Lines 12002 to 40001 are used, 14.0 s; the rest is left out',
    ]);
  });

  it('two flights in one file do not double the frequencies', () => {
    const two = log((i) => (i < 25_000 ? i : i - 25_000) * 500);
    expect(two.sampleRateHz).toBe(2000);
    expect(strongestHz(two)).toBeCloseTo(80, 0);
    expect(two.notes[0]).toBe('Time goes back by 12.5 s at line 25002: another flight begins there');
  });

  it('rows missing throughout are refused with what they would do', () => {
    const body = Array.from({length: 4000}, (_, i) => `${(i + Math.floor(i / 4)) * 500},30,1,2,3,4000`).join('\n');
    const reading = readFlightLog(header + body);
    expect(!reading.ok && reading.problem.meaning).toContain('every frequency would be off by 25 %');
  });

  it('a log in short pieces is refused with its breaks', () => {
    const body = Array.from({length: 4000}, (_, i) => `${i * 500 + Math.floor(i / 900) * 9e6},30,1,2,3,4000`).join(
      '\n',
    );
    const reading = readFlightLog(header + body);
    expect(!reading.ok && reading.problem.meaning).toContain('The longest stretch without a break has 900 rows');
  });
});
