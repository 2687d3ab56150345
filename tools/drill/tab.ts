/** The page as it stands at the bench: a clock of its own that drifts, stalls in which it does nothing, and its cable. */
import {BenchClient} from '@core/link/client';
import type {VirtualTime} from '@core/link/virtual-time';
import type {SimulatedBench} from '@simulator/hardware/bench';
import {openPort} from '@simulator/hardware/wires/port';
import type {Random} from '@simulator/random';
import {StallingPage} from '@simulator/testing/stalling-page';
import {watchedPort} from './watched-port';

/** Clocks of computer and controller differ by up to so much, relative (common practice: 100 ppm each). */
const maxDrift = 2e-4;
/** How long a page stalls, ms. */
const [shortestMs, longestMs] = [50, 3_000];

interface TabHost {
  readonly bench: SimulatedBench;
  readonly time: VirtualTime;
  readonly random: Random;
  /** Whether requests are told now, and each of them as it is sent. */
  readonly isWatched: () => boolean;
  readonly onRequest: (operation: string) => void;
}

export class Tab {
  private clockNow!: StallingPage;
  private clientNow!: BenchClient;
  private connections = 0;

  constructor(private readonly host: TabHost) {
    this.load();
  }

  get clock(): StallingPage {
    return this.clockNow;
  }
  get client(): BenchClient {
    return this.clientNow;
  }

  /** Opens the page anew, with a new connection. */
  load(): void {
    const {time, random} = this.host;
    this.clockNow = new StallingPage(time, (random.next() * 2 - 1) * maxDrift, random.next() * 1e6);
    this.connect();
  }

  connect(): void {
    const {bench, isWatched, onRequest} = this.host;
    const port = watchedPort(openPort(bench), isWatched, onRequest);
    this.clientNow = new BenchClient(this.clock.behind(port), this.clock, `tab-${++this.connections}`);
  }

  /** Does nothing for a while: a computer that is busy, a tab that is hidden. */
  stall(): void {
    const share = this.host.random.next();
    this.clock.stall(shortestMs * (longestMs / shortestMs) ** share);
  }
}
