/** Flight logs, and the verdicts that are made of one that reads. */
import {readFlightLog} from '@core/noise/flight-log';
import {findPoleCount} from '@core/noise/pole-count';
import type {FuzzSubject} from './subject';

const header = 'time_us,throttle_pct,gyro_roll,gyro_pitch,gyro_yaw';
const log = (rows: number, line: (i: number) => string, names = `${header},erpm_1`) =>
  new TextEncoder().encode(`# a note\n${names}\n${Array.from({length: rows}, (_, i) => line(i)).join('\n')}\n`);

export const logSubject: FuzzSubject = {
  seeds: [
    log(1100, (i) => `${i * 500},30,${i % 7},2,-3,${4000 + i}`),
    log(1100, (i) => `${i * 500 + (i > 40 ? 9e6 : 0)},30.5,${(i % 9) * 0.5},2,3,4000`),
    log(1100, (i) => `${i * 125},1,2,3,4`, header),
    log(12, (i) => `${i * 500},"30",1,2,3,4000`),
  ],
  take: (input) => {
    const text = new TextDecoder('latin1').decode(input);
    const read = readFlightLog(text);
    if (!read.ok) return {isFaulty: true, tooLarge: read.problem.meaning.length > 1_000};
    const {gyro, erpm, sampleRateHz} = read.value;
    findPoleCount({gyro: gyro.roll, erpm, sampleRateHz, plannedPoles: 14});
    return {isFaulty: read.value.notes.length > 1, tooLarge: gyro.roll.length > input.length};
  },
};
