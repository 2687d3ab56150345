/** Flight logs, and the verdicts that are made of one that reads. */
import {readFlight} from '@core/flight/read-flight';
import {reportFlight} from '@core/noise/flight-report';
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
  take: async (input) => {
    // In two pieces, cut anywhere: a log comes as the disk gives it.
    const cut = input.length >> 1;
    const read = await readFlight([input.subarray(0, cut), input.subarray(cut)], {sizeBytes: input.length});
    if (!read.ok) return {isFaulty: true, tooLarge: read.problem.meaning.length > 1_000};
    const log = read.value;
    const {report} = reportFlight(log, {loggedPoles: 14})!;
    const {badValues, repeatedTimes, gaps} = log.dropped;
    const isFaulty = badValues + repeatedTimes + gaps.length + log.otherFlights.length + report.findings.length > 0;
    return {isFaulty, tooLarge: log.samples > 4 * input.length};
  },
};
