/** Tables of many layouts, broken cells and broken clocks. PapaParse, a csv library, reads the same cells beside us. */
import fc from 'fast-check';
import Papa from 'papaparse';
import {describe, expect, it} from 'vitest';
import type {FlightLog} from './flight-log';
import {flownWith} from './flown-with';
import {guessColumns} from './guess-columns';
import {phasesOf, withRanges} from './phases';
import {bytesOf, readFlight} from './read-flight';
import {readHead} from './table-head';
import {welch} from '../spectra/welch';
import {strongestPeaks} from '../spectra/peaks';

async function read(text: string, options: Parameters<typeof readFlight>[1] = {}): Promise<FlightLog> {
  const reading = await readFlight(bytesOf(text), options);
  if (!reading.ok) throw new Error(`${reading.problem.place}: ${reading.problem.meaning}`);
  return reading.value;
}
async function refusal(text: string) {
  const reading = await readFlight(bytesOf(text));
  return reading.ok ? 'read' : {place: reading.problem.place, meaning: reading.problem.meaning};
}
const table = (header: string, row: (i: number) => string, rows = 1500) =>
  `${header}\n${Array.from({length: rows}, (_, i) => row(i)).join('\n')}\n`;

const header = 'time_us,throttle_pct,gyro_roll,gyro_pitch,gyro_yaw,erpm_1';
const plain = (rows = 1500, change: (line: string, i: number) => string = (line) => line) =>
  table(header, (i) => change(`${i * 500},30,1,2,3,4000`, i), rows);

describe('layouts', () => {
  const comma = (text: string) => text.replaceAll('.', ',');
  it.each([
    [
      'our own',
      table(header, (i) => `${i * 500},30,1.5,2,3,42000`),
      {timeUnit: 'µs', gyro: [2, 3, 4], throttle: 1, throttleUnit: '%', speeds: [5], speedUnit: 'eRPM', speedScale: 1},
      2000,
    ],
    [
      'semicolons, decimal commas, units in brackets',
      table('time [ms];gx (rad/s);gy (rad/s);gz (rad/s);Throttle;M1_rpm;M2_rpm', (i) =>
        comma(`${(i * 0.5).toFixed(1)};0.25;0.1;0.2;0.5;20000;21000`),
      ),
      {
        timeUnit: 'ms',
        gyro: [1, 2, 3],
        gyroUnit: 'rad/s',
        throttle: 4,
        throttleUnit: '0–1',
        speeds: [5, 6],
        speedUnit: 'rpm',
      },
      2000,
    ],
    [
      'tabs, filtered beside unfiltered, speeds in hundreds, motor commands',
      table(
        't,gyroRoll,gyroPitch,gyroYaw,gyroRollUnfiltered,gyroPitchUnfiltered,gyroYawUnfiltered,motor[0],motor[1],eRPM[0],eRPM[1],vbat'.replaceAll(
          ',',
          '\t',
        ),
        (i) => `${i / 2000}\t1\t2\t3\t4\t5\t6\t500\t600\t2000\t2100\t15.2`,
      ),
      {
        timeUnit: 's',
        gyro: [4, 5, 6],
        filteredGyro: [1, 2, 3],
        commands: [7, 8],
        speeds: [9, 10],
        speedUnit: 'eRPM',
        speedScale: 100,
        volts: 11,
      },
      2000,
    ],
    [
      'periods, reply errors, an accelerometer that is no gyro, pulses for throttle',
      table(
        'timestamp_us,AccX,AccY,AccZ,GyroX,GyroY,GyroZ,thr_us,period1,period2,reply_err1,reply_err2',
        (i) => `${i * 125},0,0,9.8,1,2,3,1300,240,250,0,1`,
      ),
      {
        timeUnit: 'µs',
        gyro: [4, 5, 6],
        throttle: 7,
        throttleUnit: 'µs',
        speeds: [8, 9],
        speedUnit: 'period',
        replyErrors: [10, 11],
      },
      8000,
    ],
    [
      'axes in another order, setpoints that are no gyro, revolutions per second',
      table(
        'Time (s),Yaw rate,Pitch rate,Roll rate,setpoint roll,setpoint pitch,setpoint yaw,throttle,m1 speed,m2 speed',
        (i) => `${(i / 1000).toFixed(3)},3,2,1,0,0,0,0.3,150,160`,
      ),
      {timeUnit: 's', gyro: [3, 2, 1], throttle: 7, speeds: [8, 9], speedUnit: 'Hz'},
      1000,
    ],
    [
      'quotes, notes before the header, raw steps',
      `made by somebody\nanother line\n${table('"time","gyro_x","gyro_y","gyro_z"', (i) => `"${i * 250}","${(i % 9) * 2000}","-5","6"`)}`,
      {timeUnit: 'µs', gyro: [1, 2, 3], gyroUnit: 'raw', speeds: []},
      4000,
    ],
  ])('%s', async (_, text, mapping, rate) => {
    const log = await read(text);
    expect(log.mapping).toMatchObject(mapping);
    expect(log.sampleRateHz).toBeCloseTo(rate, 3);
    expect(log.samples).toBe(1500);
  });

  it('units become those of the trade', async () => {
    const log = await read(
      table('t,gx_rad,gy_rad,gz_rad,throttle,period_1', (i) => `${i / 1000},${Math.PI},0,-0.5,0.25,250`),
    );
    expect(log.gyro.roll[7]).toBeCloseTo(180, 3);
    expect(log.throttle![7]).toBe(25);
    // 250 µs an electrical turn: 4000 Hz.
    expect([log.speeds.kind, log.speeds.hz[0]![7]]).toEqual(['electrical', 4000]);
  });

  it('what name and range leave open is a question', () => {
    const head = readHead(bytesOf(table('time,gyro_x,gyro_y,gyro_z,speed_1', (i) => `${i * 500},30000,2,3,30000`))[0]!);
    expect(head.ok && guessColumns(head.value).questions).toEqual([
      {
        ...{about: 'gyro', taken: 'raw', others: []},
        text: 'The gyro is taken for raw steps of a 16-bit sensor of ±2000 deg/s; say what one step is.',
      },
      {
        ...{about: 'speed', taken: 'rpm', others: ['eRPM']},
        text: 'Speeds "speed_1" are taken for rpm, from their range.',
      },
    ]);
  });

  it('a table whose columns say nothing asks a person, and reads as they say', async () => {
    const text = table('a,b,c,d', (i) => `${i / 1000},1,2,3`);
    const reading = await readFlight(bytesOf(text));
    expect(reading).toMatchObject({
      ok: false,
      problem: {
        code: 'unmapped-log',
        meaning: 'No column is known for the three axes of the gyro among a, b, c, d.',
        unmapped: {head: {names: ['a', 'b', 'c', 'd']}},
      },
    });
    const {mapping} = await read(plain());
    const log = await read(text, {
      mapping: {
        ...mapping,
        time: 0,
        timeUnit: 's',
        gyro: [3, 2, 1],
        gyroSigns: [-1, 1, 1],
        speeds: [],
        throttle: undefined,
      },
    });
    expect([log.gyro.roll[0], log.gyro.pitch[0], log.throttle]).toEqual([-3, 2, undefined]);
  });
});

describe('cells', () => {
  it('are the numbers that the language and a csv library read, in pieces of any length', async () => {
    const {mapping} = await read(plain());
    const cell = fc.oneof(
      fc.double({noNaN: true, noDefaultInfinity: true}),
      fc.integer(),
      fc.float({noNaN: true, noDefaultInfinity: true}),
    );
    await fc.assert(
      fc.asyncProperty(
        fc.array(cell, {minLength: 1, maxLength: 20}),
        fc.integer({min: 1, max: 97}),
        async (values, length) => {
          const text = table(header, (i) => `${i * 500},30,${values[i % values.length]},2,3,4000`, 1100);
          const bytes = bytesOf(text)[0]!;
          const pieces = Array.from({length: Math.ceil(bytes.length / (length * 1000))}, (_, i) =>
            bytes.subarray(i * length * 1000, (i + 1) * length * 1000),
          );
          const reading = await readFlight(pieces, {mapping});
          const rows = Papa.parse<string[]>(text.trim()).data.slice(1);
          expect(reading.ok && [...reading.value.gyro.roll]).toEqual(
            rows.map((row) => Math.fround(Number(row[2])) + 0),
          );
        },
      ),
      {seed: 12, numRuns: 25},
    );
  });

  it('a bad one costs its row, not the log, and is told with line, column and text', async () => {
    const bad = (line: string, i: number) =>
      i === 3 ? line.replace(',1,', ',x1,') : i === 700 ? '350000,30,1' : i === 900 ? line.replace('30', '') : line;
    const log = await read(`# note\n${plain(1500, bad)}`);
    expect(log.dropped.badValues).toBe(3);
    expect(log.dropped.badCells).toEqual([
      {line: 6, column: 2, text: 'x1'},
      {line: 703, column: 3, text: ''},
      {line: 903, column: 1, text: ''},
    ]);
    // The holes are filled along a straight line.
    expect(log.samples).toBe(1500);
    expect(log.dropped.gaps.map((g) => [g.missing, g.filled])).toEqual([
      [1, true],
      [1, true],
      [1, true],
    ]);
  });

  it('a log of nothing but bad rows is refused with the first of them', async () => {
    const text = `${header}\n${'0,1,2,3,4,5\n'.repeat(3)}`.replaceAll('0,1', '0,?');
    expect(await refusal(text)).toEqual({
      place: 'line 2, column throttle_pct',
      meaning: '"?" is not a number. No row of 3 could be read.',
    });
    expect(await refusal('a,b\n1,2\n')).toEqual({place: 'line 1', meaning: 'No row of numbers follows a header here.'});
    expect(await refusal('')).toEqual({place: 'line 1', meaning: 'The file is empty.'});
    expect(await refusal(plain(12))).toEqual({
      place: 'whole log',
      meaning: 'Only 12 rows; a spectrum needs at least 1024.',
    });
  });

  it('no line is too long for a message, and no open quote eats rows', async () => {
    const log = await read(
      plain(1500, (line, i) => (i === 5 ? `"${line}` : i === 9 ? line.replace(',1,', `,${'9x'.repeat(5000)},`) : line)),
    );
    expect(log.samples).toBe(1500);
    expect(log.dropped.badCells.map((c) => c.text.length)).toEqual([31]);
  });

  it('reading can be cancelled', async () => {
    const reading = await readFlight(bytesOf(plain(40_000)), {onProgress: () => false});
    expect(!reading.ok && reading.problem.code).toBe('cancelled');
  });
});

describe('the clock', () => {
  /** A line at 80 Hz; `timeOf` gives each row its time, µs. */
  const tone = (timeOf: (row: number) => number, count = 20_000) =>
    read(
      table(
        header,
        (i) => `${timeOf(i)},30,${(20 * Math.sin((2 * Math.PI * 80 * timeOf(i)) / 1e6)).toFixed(3)},0,0,4000`,
        count,
      ),
    );
  const strongestHz = ({gyro, sampleRateHz, stretches}: FlightLog) =>
    strongestPeaks(welch(gyro.roll, {sampleRateHz, segment: 2048, parts: stretches}))[0]!.hz;

  it('a pause of 10 s parts the log: 80 Hz read as 80 Hz', async () => {
    const log = await tone((i) => i * 500 + (i >= 12_000 ? 10_000_000 : 0));
    expect(log.sampleRateHz).toBe(2000);
    expect(strongestHz(log)).toBeCloseTo(80, 0.3);
    expect(log.dropped.gaps).toEqual([{atS: expect.closeTo(5.9995, 4), missing: 20_000, filled: false}]);
    expect(log.stretches.map((s) => [s.start, s.end, Math.round(s.atS)])).toEqual([
      [0, 12_000, 0],
      [12_000, 20_000, 16],
    ]);
    expect(log.durationS).toBeCloseTo(20, 1);
  });

  it('of two flights in one file the longer is read, the other told', async () => {
    const log = await tone((i) => (i < 12_500 ? i : i - 12_500) * 500);
    expect([log.samples, log.sampleRateHz]).toEqual([12_500, 2000]);
    expect(log.otherFlights).toEqual([{fromLine: 12_502, rows: 7_500}]);
    expect(strongestHz(log)).toBeCloseTo(80, 0.3);
  });

  it('every fifth row dropped is filled, and 80 Hz stays 80 Hz', async () => {
    const log = await tone((i) => (i + Math.floor(i / 4)) * 500, 8000);
    expect(log.sampleRateHz).toBe(2000);
    expect(strongestHz(log)).toBeCloseTo(80, 0.3);
    expect(log.dropped.gaps).toHaveLength(1999);
  });

  it('rows that repeat a time, and a block that was written twice, are left out', async () => {
    const log = await tone((i) => (i < 5000 ? i : i < 5040 ? i - 40 : i - 40 - (i > 9000 ? 1 : 0)) * 500, 12_000);
    expect(log.dropped.repeatedTimes).toBe(41);
    expect(log.samples).toBe(12_000 - 41);
    expect(log.otherFlights).toEqual([]);
  });

  it('times rounded to a millisecond at 2 kHz are no repeated rows', async () => {
    const log = await read(
      table(
        'time_ms,gx,gy,gz',
        (i) => `${Math.floor(i / 2)},${Math.sin((2 * Math.PI * 80 * i) / 2000).toFixed(4)},0,0`,
        8000,
      ),
    );
    expect(log.sampleRateHz).toBeCloseTo(2000, 0);
    expect([log.dropped.repeatedTimes, log.samples]).toEqual([0, 8000]);
  });

  it('a drifting clock is told', async () => {
    const log = await tone((i) => Math.round(i * 500 + 0.0005 * i * i), 20_000);
    expect(log.drift).toBeGreaterThan(0.01);
    expect((await tone((i) => i * 500, 4000)).drift).toBeLessThan(1e-6);
  });

  it('a clock that stands, and a log in short pieces, are refused', async () => {
    expect(await refusal(table(header, () => '7,30,1,2,3,4000'))).toMatchObject({
      meaning: 'The time does not advance.',
    });
    const pieces = table(header, (i) => `${i * 500 + Math.floor(i / 900) * 9e6},30,1,2,3,4000`, 4000);
    expect(await refusal(pieces)).toMatchObject({
      meaning: expect.stringContaining('The longest stretch without a break has 900 rows'),
    });
  });
});

describe('phases', () => {
  const throttle = (t: number) =>
    t < 4 ? 30 : t < 6 ? 55 : t < 8 ? 95 : t < 8.6 ? 8 : t < 12 ? 30 : t < 12.4 ? 85 : 30;
  it('hover, cruise, full power, a cut and a punch are found, and a part can be looked at alone', async () => {
    const log = await read(table(header, (i) => `${i * 1000},${throttle(i / 1000)},1,2,3,4000`, 15_000));
    const phases = phasesOf(log);
    const near = (name: keyof typeof phases, t: number) => phases[name].some((r) => r.fromS <= t && t <= r.toS);
    expect([
      near('hover', 2),
      near('cruise', 5.2),
      near('full power', 7.5),
      near('cuts', 8.2),
      near('punches', 12.2),
    ]).toEqual([true, true, true, true, true]);
    expect(near('hover', 7)).toBe(false);
    const part = withRanges(log, [{fromS: 1, toS: 2.5}]);
    expect(part.stretches).toEqual([{start: 1000, end: 2500, atS: 1}]);
  });
});

it('what a controller wrote at the top of its log is read, anything else is a note', () => {
  const config = {
    protocol: 'dshot300',
    replies: true,
    poles: 14,
    loopHz: 4000,
    gyroHz: 8000,
    arms: [0],
    gyroLowPassHz: 250,
    idlePercent: 5,
  };
  expect(flownWith(['hello', `flown with ${JSON.stringify(config)}`])).toEqual(config);
  for (const note of ['flown with {', 'flown with {"poles": 14}', 'flown with joy'])
    expect(flownWith([note])).toBeUndefined();
});
