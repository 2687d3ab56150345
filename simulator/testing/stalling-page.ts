/**
 * A page with a clock of its own beside the bench: it drifts, and it stalls while the bench goes on. Timers and bytes that
 * come due in a stall are handled when it ends; what the page wants to send waits with them.
 */
import type {BytePort, Clock} from '@core/link/port';

export class StallingPage implements Clock {
  private stalledUntil = -Infinity;

  /** @param drift by which its clock runs faster than the bench's, 1e-4 for 100 ppm; @param startMs its reading at the begin. */
  constructor(
    private readonly bench: Clock,
    private readonly drift = 0,
    private readonly startMs = 0,
  ) {}

  /** Its own clock, ms: timers of a browser do not run on the bench's. */
  now(): number {
    return this.startMs + this.bench.now() * (1 + this.drift);
  }

  after(ms: number, callback: () => void): () => void {
    let cancelled = false;
    this.bench.after(ms / (1 + this.drift), () => this.whenAwake(() => cancelled || callback()));
    return () => (cancelled = true);
  }

  /** Does nothing from now on for so long, ms. */
  stall(ms: number): void {
    this.stalledUntil = Math.max(this.stalledUntil, this.bench.now() + ms);
  }

  /** The port as this page sees it: bytes that come in a stall are read after it. */
  behind(port: BytePort): BytePort {
    return {
      writable: port.writable,
      readable: {
        getReader: () => {
          const reader = port.readable.getReader();
          return {
            cancel: (reason) => reader.cancel(reason),
            read: async () => {
              const read = await reader.read();
              await new Promise<void>((resolve) => this.whenAwake(resolve));
              return read;
            },
          };
        },
      },
    };
  }

  /** As soon as the page does anything again: at once where it does not stall. */
  whenAwake(callback: () => void): void {
    const left = this.stalledUntil - this.bench.now();
    if (left > 0) this.bench.after(left, () => this.whenAwake(callback));
    else callback();
  }
}
