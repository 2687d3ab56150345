/** A page that is frozen and goes on: told once with its length. */
import {describe, expect, it} from 'vitest';
import type {Clock} from '../../link/port';
import {sleptText, watchSleep} from './sleep-watch';
import {VirtualTime} from '../../link/virtual-time';

/** A clock that can freeze: its time passes, and what was due meanwhile comes at once afterwards. */
class FreezingClock implements Clock {
  private readonly time = new VirtualTime();
  private frozenMs = 0;
  now = (): number => this.time.now() + this.frozenMs;
  after = (ms: number, callback: () => void): (() => void) => this.time.after(ms, callback);
  pass = (ms: number): void => this.time.advanceTo(this.time.now() + ms);
  freeze(ms: number): void {
    this.frozenMs += ms;
  }
}

describe('a page that did not run', () => {
  it('is told once, with its length; a second of work and a hidden page’s slow timers are not sleep', () => {
    const clock = new FreezingClock();
    const slept: number[] = [];
    const end = watchSleep(clock, (ms) => slept.push(ms));
    clock.pass(10_000);
    clock.freeze(2_500);
    clock.pass(10_000);
    expect(slept).toEqual([]);
    clock.freeze(42_000);
    clock.pass(10_000);
    expect(slept).toEqual([42_000]);
    end();
    clock.freeze(60_000);
    clock.pass(10_000);
    expect(slept).toHaveLength(1);
    expect(sleptText(slept[0]!)).toContain('did not run for 42 s');
  });
});
