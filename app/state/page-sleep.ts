/** Tells that this page did not run for a while with a bench connected, until it was read. */
import {Injectable, inject, signal} from '@angular/core';
import {clockOf} from '@core/link/clock';
import {sleptText, watchSleep} from '@core/spin/hold/sleep-watch';
import {BenchStore} from './bench.store';

@Injectable({providedIn: 'root'})
export class PageSleep {
  private readonly bench = inject(BenchStore);
  private readonly newest = signal<string | undefined>(undefined);
  readonly text = this.newest.asReadonly();

  /** By the browser's own clock, also where page and bench are stepped together. Returns what ends it. */
  watch(): () => void {
    return watchSleep(clockOf(window), (sleptMs) => {
      if (this.bench.isConnected()) this.newest.set(sleptText(sleptMs));
    });
  }

  dismiss(): void {
    this.newest.set(undefined);
  }
}
