/** The single wires to the ESCs: one command at a time on each, cut short when power goes. */
import type {VirtualTime} from '@core/link/virtual-time';

/** What one command takes: bytes in, flash work, bytes out, ms. */
export interface WireTiming {
  readonly inMs: number;
  readonly flashMs?: number;
  readonly outMs: number;
  /** Flash that the work touches. */
  readonly address?: number;
  readonly length?: number;
}

interface WireJob {
  readonly cancel: () => void;
  readonly refuse: () => void;
  readonly flash:
    | {readonly from: number; readonly to: number; readonly address: number; readonly length: number}
    | undefined;
}

interface FlashWork {
  readonly address: number;
  readonly length: number;
}

export class Wires {
  private readonly jobs: Set<WireJob>[];
  private readonly freeAt: number[];

  constructor(
    private readonly time: VirtualTime,
    count: number,
  ) {
    this.jobs = Array.from({length: count}, () => new Set());
    this.freeAt = this.jobs.map(() => 0);
  }

  get isBusy(): boolean {
    return this.jobs.some((jobs) => jobs.size > 0);
  }

  /** Queues a command. `refuse` is called instead of `finish` when the wire is cut before its end. */
  run(wire: number, t: WireTiming, finish: () => void, refuse: () => void): void {
    const now = this.time.now();
    const begin = Math.max(now, this.freeAt[wire]!);
    const from = begin + t.inMs;
    const to = from + (t.flashMs ?? 0);
    const end = to + t.outMs;
    this.freeAt[wire] = end;
    const jobs = this.jobs[wire]!;
    const cancel = this.time.after(end - now, () => {
      jobs.delete(job);
      finish();
    });
    const flash = t.flashMs ? {from, to, address: t.address!, length: t.length!} : undefined;
    const job: WireJob = {cancel, refuse, flash};
    jobs.add(job);
  }

  /** Ends everything under way on a wire; returns the flash that was being worked on at this moment. */
  cut(wire: number): FlashWork[] {
    const now = this.time.now();
    const cut = [...this.jobs[wire]!];
    this.jobs[wire]!.clear();
    this.freeAt[wire] = now;
    for (const job of cut) {
      job.cancel();
      job.refuse();
    }
    return cut.flatMap(({flash}) => (flash && flash.from <= now && now < flash.to ? [flash] : []));
  }
}
