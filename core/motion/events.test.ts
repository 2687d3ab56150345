/** A motor that never turns, and one that coasts: speeds of the simplest motor, made here. */
import {describe, expect, it} from 'vitest';
import {reportOn} from './report';
import type {SpinTrace} from './trace';

const rateHz = 500;
interface Course {
  readonly throttle: (t: number) => number;
  readonly rpm: (t: number) => number;
  readonly amps?: ((t: number) => number) | undefined;
}
function traceOf({throttle, rpm, amps}: Course, seconds = 3): SpinTrace {
  const timeS = Float64Array.from({length: seconds * rateHz}, (_, i) => i / rateHz);
  return {
    timeS,
    volts: timeS.map(() => 16),
    motors: [{throttle: timeS.map(throttle), rpm: timeS.map(rpm), amps: amps && timeS.map(amps)}],
    notes: [],
  };
}
const told = (course: Course) => reportOn(traceOf(course)).findings.map(({kind, text}) => ({kind, text}));

describe('a motor that never turned', () => {
  const throttle = (t: number) => (t < 1 ? 0 : t < 2 ? 0.2 : 0.5);
  const rpm = () => 0;
  it('is told with what was commanded and what flowed', () => {
    expect(told({throttle, rpm, amps: (t) => 18 * throttle(t)})).toEqual([
      {
        kind: 'never-turned',
        text: 'Motor 1 never turned, commanded up to 50 %, while up to 9.0 A flowed. It is blocked, or one of its phases is not connected.',
      },
    ]);
    expect(told({throttle, rpm, amps: () => 0.02})[0]!.text).toContain('no current flowed. It is not connected');
    expect(told({throttle, rpm})[0]!.text).toBe(
      'Motor 1 never turned, commanded up to 50 %. It is blocked, or not connected.',
    );
  });
  it('is none where it turned, was hardly commanded, or no speed is known', () => {
    expect(told({throttle, rpm: (t) => (t > 1.2 ? 9000 : 0)}).map((f) => f.kind)).not.toContain('never-turned');
    expect(told({throttle: (t) => 0.04 * Number(t > 1), rpm})).toEqual([]);
    expect(told({throttle: (t) => 0.5 * Number(t > 1 && t < 1.05), rpm})).toEqual([]);
    expect(told({throttle, rpm: () => NaN})).toEqual([]);
  });
});

describe('a motor that coasts', () => {
  /** Down from 12,000 rpm with a time constant of 0.15 s from 1 s on. */
  const rpm = (t: number) => (t < 0.1 ? 0 : t < 1 ? 12_000 : 12_000 * Math.exp((1 - t) / 0.15));
  const after = (again: number, throttleAgain: number) => ({
    throttle: (t: number) => (t < 0.1 ? 0 : t < 1 ? 0.4 : t < again ? 0 : throttleAgain),
    // It takes a moment until a motor that is driven again stops falling.
    rpm: (t: number) => Math.max(t < again + 0.06 ? 0 : 2_000, rpm(t)),
  });
  it('lost no step: at zero, at a zero that is not quite that, nor when it is driven again while it falls', () => {
    for (const again of [1.05, 1.1, 1.2, 1.37, 1.4])
      for (const command of [0.001, 0.05, 0.09]) expect(told(after(again, command)), `${again} ${command}`).toEqual([]);
  });
  it('one that collapses while it is driven did', () => {
    const throttle = (t: number) => 0.4 * Number(t > 0.1);
    const lost = (t: number) => (t < 0.1 ? 0 : t > 1.5 && t < 1.9 ? 12_000 * Math.exp((1.5 - t) / 0.05) : 12_000);
    expect(told({throttle, rpm: lost}).map((f) => f.kind)).toEqual(['desync']);
  });
});
