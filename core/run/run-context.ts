/** What every step of a running order works with: the link, the journal, progress, and the person's stop and pause. */
import {findChip, type Chip} from '../firmware/chips';
import type {Image} from '../firmware/image';
import type {KeptApplication} from '../firmware/plan/read-from';
import type {BenchClient} from '../link/client';
import {sleep, type Clock} from '../link/port';
import {ProblemError, type Problem} from '../problem';
import type {EscWire} from '../bench/esc-access';
import type {Found} from '../bench/found';
import type {Journal, JournalEntry} from './journal';
import {askedFor, groundsOfRow, type GroundsQuestion, type ProofRow} from '../bench/grounds';
import type {Replaced} from '../bench/replaced';
import type {Craft} from '../craft/craft';
import type {NewProof, ProofScope} from '../proof/proof';
import type {ReplyMeasure} from '../replies/replies';
import type {CancelSignal} from '../spin/hold/lease';
import type {MotionMeasure} from '../spin/verdict/motion-proof';
import type {StepMeanings, Touch} from '../order/step-kind';
import type {Step, StepOf, StepTarget} from '../order/steps';
import {enterEsc, survey, surveyArm, type KnownEscs} from '../bench/survey';
import type {WorkOrder} from '../order/work-order';

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
  readonly waitsFor?: 'battery' | 'battery-off' | 'hold' | 'clip' | 'transmitter' | 'disarm';
}

interface PauseSignal {
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
  readonly measureReplies: (step: StepOf<'prove-replies'>, cancel: CancelSignal) => Promise<ReplyMeasure[]>;
  /** The same for a card of every motor: its report, and what replies said while each was driven alone. */
  readonly measureMotion: (step: StepOf<'prove-motion'>, cancel: CancelSignal) => Promise<MotionMeasure>;
  /** Names the connection and the page that proofs are taken in. */
  readonly session: string;
  /** The craft of the order as it is, and what a person said was replaced on it: proofs rest on both. */
  readonly craft: Craft;
  readonly replaced: Replaced;
  /** Keeps everything a resumed order is about to overwrite, where a person said that it may. */
  readonly keepSnapshot: (found: Found) => Promise<void>;
  /** Keeps firmware of others that is about to be replaced; resolves when it is safe. */
  readonly keepApplication: (application: KeptApplication) => Promise<void>;
  /** Told of what a survey of this order read, as soon as it is read. */
  readonly onFound?: (found: Found) => void;
  /** Changes made meanwhile that a person saw and lets be overwritten, by their keys. */
  readonly overwrite?: ReadonlySet<string>;
  /** Set by the person to stop after the current page. */
  readonly cancel: CancelSignal;
  /** Set by the person to wait after the current page. */
  readonly pause?: PauseSignal;
}

const abandoned: Problem = {
  code: 'abandoned',
  place: 'work order',
  meaning: 'Ended after its page, as another part failed.',
  remedy: 'Resume when that is mended.',
};

export class RunContext {
  /** ESCs this run had to give up, with the reason: the others are finished. */
  readonly isolated = new Map<number, ProblemError>();
  /** Set when the flight controller does not keep its configuration. */
  controllerLost: ProblemError | undefined;
  /** What the last survey of this run found. */
  found: Found | undefined;
  private abandoned = false;

  constructor(
    readonly client: BenchClient,
    readonly order: WorkOrder,
    readonly host: RunnerHost,
    readonly kinds: StepMeanings,
  ) {}

  touches(step: Step): readonly Touch[] {
    return this.kinds.of(step).touches(step);
  }

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

  /** Reads all that can be reached at once: everything behind a flight controller, or the one ESC on an adapter. */
  readAll(onProgress?: (share: number, text: string) => void): Promise<Found> {
    const options = {at: this.host.today(), known: this.known, ...(onProgress && {onProgress})};
    if (!this.onAdapter) return survey(this.client, options);
    const before = this.found ?? this.order.found;
    return surveyArm(this.client, {...options, output: 0, outputs: before.escs.length + before.silent.length, before});
  }

  /** Calls an ESC into its bootloader; refuses one that is not the one the order was made for. */
  async enter(target: StepTarget): Promise<Chip> {
    const wire = this.wire(target.output);
    const boot = await enterEsc(wire);
    if (boot.serial !== target.serial) throw otherEsc(wire.name);
    return findChip(boot.chip)!;
  }

  async leave(target: StepTarget): Promise<void> {
    await this.client.request('esc.leave', {output: this.wire(target.output).wire});
  }

  /** Whether something had to be given up, so that nothing can be proven of the whole. */
  get isPartial(): boolean {
    return this.isolated.size > 0 || this.controllerLost !== undefined;
  }

  /** Ends every writer after its page: something failed that none of them can go on without. */
  abandon(): void {
    this.abandoned = true;
  }

  isIsolated = (target: StepTarget): boolean => this.isolated.has(target.output);

  progress(step: Step, share: number, text: string, more: Omit<Progress, 'stepId' | 'share' | 'text'> = {}): void {
    this.host.onProgress({stepId: step.id, share, text, ...more});
  }

  /** An entry that cannot be kept ends every writer: nothing touches hardware without a record. */
  note(step: Step, event: JournalEntry['event'], text: string, more: Partial<JournalEntry> = {}): Promise<void> {
    const entry = {orderId: this.order.id, at: this.host.today(), stepId: step.id, event, text, ...more};
    return this.host.journal.append(entry).catch((error: unknown) => {
      this.abandon();
      this.client.refuseChanges(abandoned);
      throw error;
    });
  }

  /** Ends a step: done, or in part when ESCs had to be left out of it. */
  async end(step: Step, text: string, more: Partial<JournalEntry> = {}): Promise<void> {
    await this.note(step, this.isPartial ? 'part' : 'done', text, more);
    this.progress(step, 1, text);
  }

  /** What a proof taken in this order rests on, on what its last survey found, or on `found`. */
  groundsQuestion(found = this.found ?? this.order.found): GroundsQuestion {
    const {craft, replaced} = this.host;
    return {craft, plan: this.order.plan, found, replaced};
  }

  /** Records what was measured, unless something had to be left out of it. @param found what it was taken from. */
  async prove(
    step: Step,
    row: ProofRow,
    {found, ...measured}: Pick<NewProof, 'text'> & ProofScope & {readonly found: Found},
  ): Promise<void> {
    const {cycles} = await this.client.request('power', null);
    const proof: NewProof = {
      ...measured,
      kind: row.kind,
      grounds: this.asked(groundsOfRow(row, this.groundsQuestion(found))),
      at: this.host.today(),
      session: this.host.session,
      cycles,
      holds: true,
    };
    await this.end(step, measured.text, this.isPartial ? {} : {proof});
  }

  /** A roll-back proves what was before, and an order that left steps out proves no plan. */
  private asked(grounds: NewProof['grounds']): NewProof['grounds'] {
    const {rollsBack, leftSteps = []} = this.order;
    if (rollsBack === undefined && !leftSteps.length) return grounds;
    const {key, value} = askedFor(rollsBack === undefined ? 'an order with skipped steps' : 'a roll-back');
    const [first, ...rest] = grounds.map((ground) => (ground.key === key ? {key, value} : ground));
    return [first!, ...rest];
  }

  checkCancel(): void {
    if (this.abandoned) throw new ProblemError(abandoned);
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

export const otherEsc = (place: string) =>
  stop(
    'other-esc',
    place,
    'Another ESC is on this output than when the order was made.',
    'Put the plugs back, or survey and make a new order.',
  );
