/** What every step of a running order works with: the link, the journal, progress, and the person's stop and pause. */
import {findChip, type Chip} from '../firmware/chips';
import type {Image} from '../firmware/image';
import type {BenchClient} from '../link/client';
import {sleep, type Clock} from '../link/port';
import {ProblemError} from '../problem';
import type {EscWire} from './esc-access';
import type {Found} from './found';
import type {Journal, JournalEntry} from './journal';
import type {ProofRecord, ReplyMeasure} from './proof';
import type {CancelSignal} from './spin';
import type {Step, StepTarget} from './steps';
import {enterEsc, type KnownEscs} from './survey';
import type {WorkOrder} from './work-order';

export interface Progress {
  readonly stepId: string;
  /** Share of the step, 0…1. */
  readonly share: number;
  readonly text: string;
  /** Motor at work, where one is. */
  readonly output?: number;
  readonly pagesDone?: number;
  readonly pagesTotal?: number;
  /** Bytes of image written and on their way since the step began. */
  readonly bytesDone?: number;
  readonly bytesTotal?: number;
  /** Time left for this ESC's pages, ms, from the pages written so far. */
  readonly leftMs?: number;
  readonly paused?: boolean;
  /** A question to the person that the step waits for. */
  readonly waitsFor?: 'battery' | 'hold' | 'clip';
}

export interface PauseSignal {
  readonly paused: boolean;
}

export interface RunnerHost {
  readonly clock: Clock;
  /** Epoch ms, for records. */
  readonly today: () => number;
  readonly journal: Journal;
  readonly image: (sha256: string) => Promise<Image>;
  readonly onProgress: (progress: Progress) => void;
  /** Waits until the person holds, measures, and waits again when they let go too early. */
  readonly measureReplies: (outputs: number, poles: number, cancel: CancelSignal) => Promise<ReplyMeasure[]>;
  /** Set by the person to stop after the current page. */
  readonly cancel: CancelSignal;
  /** Set by the person to wait after the current page. */
  readonly pause?: PauseSignal;
}

export class RunContext {
  /** ESCs this run had to give up, with the reason: the others are finished. */
  readonly isolated = new Map<number, ProblemError>();
  /** What the last survey of this run found. */
  found: Found | undefined;

  constructor(
    readonly client: BenchClient,
    readonly order: WorkOrder,
    readonly host: RunnerHost,
  ) {}

  get onAdapter(): boolean {
    return this.order.found.road === 'single-wire';
  }

  get known(): KnownEscs {
    const pairs = this.order.found.escs.flatMap((e) => (e.hardware ? [[e.boot.serial, e.hardware] as const] : []));
    return {hardware: new Map(pairs), claims: new Map()};
  }

  wire(output: number): EscWire {
    return this.onAdapter
      ? {client: this.client, wire: 0, name: `arm ${output + 1}`}
      : {client: this.client, wire: output, name: `motor ${output + 1}`};
  }

  /** Calls an ESC into its bootloader; refuses one that is not the one the order was made for. */
  async enter(target: StepTarget): Promise<Chip> {
    const wire = this.wire(target.output);
    const boot = await enterEsc(wire);
    if (boot.serial !== target.serial)
      throw stop(
        'other-esc',
        wire.name,
        'Another ESC is on this output than when the order was made.',
        'Put the plugs back, or survey and make a new order.',
      );
    return findChip(boot.chip)!;
  }

  async leave(target: StepTarget): Promise<void> {
    await this.client.request('esc.leave', {output: this.wire(target.output).wire});
  }

  isIsolated = (target: StepTarget): boolean => this.isolated.has(target.output);

  progress(step: Step, share: number, text: string, more: Omit<Progress, 'stepId' | 'share' | 'text'> = {}): void {
    this.host.onProgress({stepId: step.id, share, text, ...more});
  }

  note(step: Step, event: JournalEntry['event'], text: string, more: Partial<JournalEntry> = {}): Promise<void> {
    return this.host.journal.append({
      orderId: this.order.id,
      at: this.host.today(),
      stepId: step.id,
      event,
      text,
      ...more,
    });
  }

  /** Ends a step: done, or in part when ESCs had to be left out of it. */
  async end(step: Step, text: string, more: Partial<JournalEntry> = {}): Promise<void> {
    await this.note(step, this.isolated.size ? 'part' : 'done', text, more);
    this.progress(step, 1, text);
  }

  async prove(step: Step, {kind, text}: Pick<ProofRecord, 'kind' | 'text'>): Promise<void> {
    const proof: ProofRecord = {kind, text, at: this.host.today(), holds: true};
    await this.end(step, text, this.isolated.size ? {} : {proof});
  }

  checkCancel(): void {
    if (this.host.cancel.aborted)
      throw stop(
        'stopped-by-person',
        'work order',
        'Stopped by you, after the page that was being written.',
        'Resume when ready.',
      );
  }

  /** Between two pages: stops or waits as the person wishes. */
  async betweenPages(step: Step, at: Omit<Progress, 'stepId'>): Promise<void> {
    this.checkCancel();
    while (this.host.pause?.paused) {
      const {share, text, ...more} = at;
      this.progress(step, share, `${text}, paused`, {...more, paused: true});
      await sleep(this.host.clock, 200);
      this.checkCancel();
    }
  }
}

export const stop = (code: string, place: string, meaning: string, remedy: string) =>
  new ProblemError({code, place, meaning, remedy});
