/** Draws of lost replies: their share and their runs against what chance gives. */
import {describe, expect, it} from 'vitest';
import {upperBound} from '@core/replies/binomial-bound';
import {Random} from '../../random';
import {ReplyLine} from './reply-line';

const counted = (silent: number, spoilt: number, times = 4000) => {
  const line = new ReplyLine(new Random(11));
  let run = 0;
  for (let ms = 1; ms <= times; ms++) {
    line.take(8, {silent, spoilt}, {now: ms, loopMs: 0.125});
    run = Math.max(run, line.tellRun());
  }
  return {line, run};
};

describe('lost replies', () => {
  it.each([0.001, 0.02, 0.3, 0.9])('a chance of %d gives that share, within what chance allows', (chance) => {
    const {line} = counted(0, chance);
    const sd = Math.sqrt((chance * (1 - chance)) / line.asked);
    expect(Math.abs(line.lost / line.asked - chance)).toBeLessThan(4 * sd);
    expect(upperBound(line.lost, line.asked)).toBeGreaterThan(chance - 2 * sd);
  });

  it('none at no chance, all at certainty, and the run is the whole of it', () => {
    expect(counted(0, 0).line.lost).toBe(0);
    const {line, run} = counted(1, 0, 100);
    expect([line.lost, line.lostAs.missing, run, line.ageMs(100)]).toEqual([800, 800, 800, 100]);
  });

  it('silence is always missing; what is spoilt has three ends', () => {
    expect(counted(0.2, 0).line.lostAs).toMatchObject({code: 0, checksum: 0});
    const {code, checksum, missing} = counted(0, 0.2).line.lostAs;
    expect(code / (code + checksum + missing)).toBeCloseTo(0.5, 1);
    expect(checksum / (code + checksum + missing)).toBeCloseTo(0.3, 1);
  });

  it('runs are as long as chance makes them: about log(n) / log(1/p)', () => {
    const {run, line} = counted(0.1, 0);
    const due = Math.log(line.asked) / Math.log(10);
    expect(run).toBeGreaterThan(due - 2.5);
    expect(run).toBeLessThan(due + 3.5);
  });
});
