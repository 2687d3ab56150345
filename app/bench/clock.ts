/** The one clock for everything in the application that waits: the browser's, or a virtual one in tests. */
import {InjectionToken} from '@angular/core';
import {clockOf} from '@core/link/clock';
import type {Clock} from '@core/link/port';

export const CLOCK = new InjectionToken<Clock>('clock', {providedIn: 'root', factory: () => clockOf(window)});
