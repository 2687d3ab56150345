/** The one clock for everything in the application that waits: the browser's, one stepped with the bench, or a virtual one in tests. */
import {InjectionToken} from '@angular/core';
import {clockOf} from '@core/link/clock';
import type {Clock} from '@core/link/port';
import {SteppedClock} from './stepped-clock';

export {every, sleep} from '@core/link/port';

declare global {
  interface Window {
    /** Set before the page loads: how many times faster than real time page and simulated bench are stepped together. */
    bidexPace?: number;
  }
}

/** So long for an eye on that clock, ms: where time passes faster, a screen that follows it does not have to. */
export const forTheEye = (clock: Clock, ms: number): number => (clock instanceof SteppedClock ? ms * clock.pace : ms);

export const CLOCK = new InjectionToken<Clock>('clock', {
  providedIn: 'root',
  factory: () => (window.bidexPace === undefined ? clockOf(window) : new SteppedClock(window.bidexPace)),
});
