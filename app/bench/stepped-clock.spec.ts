import {afterEach, beforeEach, describe, expect, it} from 'vitest';
import {SteppedClock, type SteppedBench, type StepEnd} from './stepped-clock';

/** A bench that says nothing, and hurries for a number of steps. */
const benchThatHurries = (clock: SteppedClock, steps: number): SteppedBench => ({
  step(ms): Promise<StepEnd> {
    clock.moved(ms);
    return Promise.resolve({hurries: steps-- > 0, isIdle: false});
  },
});

describe('a clock that is stepped with a bench', () => {
  let clock: SteppedClock;
  let ending: AbortController;
  beforeEach(() => {
    ending = new AbortController();
    clock = new SteppedClock(20, ending.signal);
  });
  // The files of a worker share one loop of events: a clock that went on would slow down all of them.
  afterEach(() => ending.abort());

  it('goes on at its pace after a hurry: what passed in it is not waited for', async () => {
    clock.join(benchThatHurries(clock, 60));
    // 60 hurried steps of a second each, then an ordinary wait of 100 ms, which is 5 ms of real time.
    await new Promise<void>((done) => clock.after(60_000, done));
    const hurried = performance.now();
    await new Promise<void>((done) => clock.after(100, done));
    // Paid back at 20 to 1, the minute would have taken 3 s.
    expect(performance.now() - hurried).toBeLessThan(1000);
  });

  it('goes on where the bench has counted further, and so tells smaller times apart less well', async () => {
    let benchMs = 2 ** 30 + 0.1;
    clock.join({
      step(ms): Promise<StepEnd> {
        const before = benchMs;
        benchMs += ms;
        clock.moved(benchMs - before);
        return Promise.resolve({hurries: true, isIdle: false});
      },
    });
    const waited = (async () => {
      for (let i = 1; i <= 200; i++) await new Promise<void>((done) => clock.after(i / 7, done));
      return 'all';
    })();
    const tooLong = new Promise<string>((done) => setTimeout(() => done('stands still'), 3000));
    expect(await Promise.race([waited, tooLong])).toBe('all');
  });

  it('calls back what is due while nothing moves along', async () => {
    const called: string[] = [];
    clock.after(40, () => called.push('later'));
    const cancel = clock.after(10, () => called.push('cancelled'));
    clock.after(5, () => called.push('soon'));
    cancel();
    await new Promise<void>((done) => clock.after(60, done));
    expect(called).toEqual(['soon', 'later']);
  });

  it('stands still once it has ended', async () => {
    let steps = 0;
    clock.join({
      step: (ms): Promise<StepEnd> => {
        steps++;
        clock.moved(ms);
        return Promise.resolve({hurries: true, isIdle: false});
      },
    });
    await new Promise<void>((done) => clock.after(1000, done));
    ending.abort();
    await new Promise((done) => setTimeout(done, 20));
    const before = steps;
    await new Promise((done) => setTimeout(done, 100));
    expect([before > 0, steps]).toEqual([true, before]);
  });

  it('lets a bench go: the clock moves by itself again', async () => {
    const leave = clock.join({step: () => new Promise<StepEnd>(() => undefined)});
    leave();
    await new Promise<void>((done) => clock.after(20, done));
    expect(clock.now()).toBeGreaterThanOrEqual(20);
  });
});
