/** Counting report by report, on reports made by hand. */
import {describe, expect, it} from 'vitest';
import type {Report} from '../link/operations';
import {aloneAndTogether} from './reply-quality';
import {ReplyTally} from './reply-tally';

/** Cumulative counters, so many more asked and lost each time. */
class Controller {
  private atMs = 0;
  private readonly counters = Array.from({length: 3}, () => ({asked: 0, lost: 0}));

  report(throttles: readonly number[], asked: number, lost: readonly number[]): Report {
    this.atMs += 20;
    const motors = this.counters.map((c, i) => {
      c.asked += asked;
      c.lost += lost[i] ?? 0;
      return {erpm: 7000, throttle: throttles[i]!, ...c};
    });
    return {atMs: this.atMs, load: 0.2, power: {volts: 16, amps: 1}, motors} as unknown as Report;
  }
}

const question = {outputs: 3, poles: 14, mostRpm: 30_000};

describe('alone and together', () => {
  const tally = new ReplyTally(question);
  const controller = new Controller();
  const hear = (throttles: number[], lost: number[] = []) => tally.hear(controller.report(throttles, 100, lost));
  hear([0, 0, 0]);
  hear([0.3, 0, 0], [1]);
  hear([0.3, 0, 0], [1]);
  // The second begins while the first stood a moment ago: this report is nobody's alone.
  hear([0, 0.3, 0], [0, 7]);
  hear([0, 0.3, 0], [0, 2]);
  hear([0.3, 0.3, 0.3], [10, 11, 12]);
  // Nor is one alone that turns on when the others were let go a moment ago.
  hear([0, 0, 0.05], [0, 0, 3]);
  const {motors} = tally.quality();

  it('only what was counted while the others stood is alone', () => {
    expect(motors[0]!.alone![2]).toEqual({asked: 200, lost: 2});
    expect(motors[1]!.alone![2]).toEqual({asked: 100, lost: 2});
    expect(motors[2]!.alone).toBeUndefined();
  });
  it('at one throttle both are set beside each other', () =>
    expect(aloneAndTogether(tally.quality())).toEqual({
      ...{alone: {asked: 300, lost: 4}, together: {asked: 400, lost: 40}},
      upTo: 0.3,
    }));
  it('a run in which no motor turned alone says nothing of it', () => {
    const other = new ReplyTally(question);
    const of = new Controller();
    for (let i = 0; i < 4; i++) other.hear(of.report([0.3, 0.3, 0.3], 100, []));
    expect(aloneAndTogether(other.quality())).toBeUndefined();
  });
});

describe('bins of throttle', () => {
  it.each([
    [0, 0],
    [0.1, 0],
    [0.1004, 0],
    [0.101, 1],
    [0.3, 2],
    [1, 9],
  ])('%f is counted in bin %i', (throttle, bin) => {
    const tally = new ReplyTally(question);
    const of = new Controller();
    tally.hear(of.report([throttle, 0, 0], 1, []));
    tally.hear(of.report([throttle, 0, 0], 50, []));
    expect(tally.quality().motors[0]!.overThrottle.findIndex((b) => b.asked > 0)).toBe(bin);
  });
  it('counters that begin anew, as after a restart, are counted from 0', () => {
    const tally = new ReplyTally(question);
    const [before, after] = [new Controller(), new Controller()];
    for (let i = 0; i < 5; i++) tally.hear(before.report([0.2, 0.2, 0.2], 100, [3]));
    tally.hear(after.report([0.2, 0.2, 0.2], 60, [1]));
    expect(tally.quality().motors[0]).toMatchObject({asked: 460, lost: 13});
  });
});
