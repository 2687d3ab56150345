/** The one clock for everything in the application that waits: the browser's, one stepped with the bench, or a virtual one in tests. */
import {InjectionToken} from '@angular/core';
import {clockOf} from '@core/link/clock';
import type {Clock} from '@core/link/port';
import {SteppedClock} from './stepped-clock';

declare global {
  interface Window {
    /** Set before the page loads: how many times faster than real time page and simulated bench are stepped together. */
    bidexPace?: number;
  }
}

export const CLOCK = new InjectionToken<Clock>('clock', {
  providedIn: 'root',
  factory: () => (window.bidexPace === undefined ? clockOf(window) : new SteppedClock(window.bidexPace)),
});
