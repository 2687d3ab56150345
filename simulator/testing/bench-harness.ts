/** A bench of the demo, a client and the shelf in virtual time: what runner and survey tests start from. */
import type {Craft} from '@core/craft/craft';
import {demoFleet} from '@demo/craft/fleet';
import {chips} from '@core/firmware/chips';
import {KeptApplications} from './kept-applications';
import type {HardwareClaim} from '@core/firmware/plan/fit';
import {BenchClient} from '@core/link/client';
import type {Found} from '@core/bench/found';
import {MemoryJournal} from '@core/run/journal';
import {ProblemError} from '@core/problem';
import {runWorkOrder, type RunnerHost} from '@core/run/runner';
import {measureReplies} from '@core/spin/replies/measure-replies';
import type {CancelSignal} from '@core/spin/hold/lease';
import type {MotionMeasure} from '@core/spin/verdict/motion-proof';
import {runEveryCard} from '@core/spin/script/every-card';
import {replyQuestion} from '@core/spin/replies/reply-question';
import {survey, surveyArm, type KnownEscs} from '@core/bench/survey';
import {controllerBoardOf} from '@core/order/controller-work';
import {makeWorkOrder} from '@core/run/order/make-order';
import type {OrderQuestion, WorkOrder} from '@core/order/work-order';
import {SimulatedBench} from '../hardware/bench';
import type {BenchSetup} from '../hardware/bench-setup';
import {benches} from '../benches/benches';
import {meridianImage} from '../firmware/meridian';
import {withPlumb} from '../firmware/plumb';
import {openPort} from '../hardware/wires/port';
import {runInVirtualTime, VirtualTime} from '@core/link/virtual-time';
import {personAt} from './person';
import {MemoryShelf} from './shelf';

export const breathe = () => new Promise<void>((resolve) => setImmediate(resolve));

export const image42 = meridianImage('4.2', {board: 'Gneiss 45', deadTimeNs: 45});
export const application42 = image42.segments[0]!.bytes;
export const shelf = new MemoryShelf();
export const demoCraft = (id: string): Craft => demoFleet.find((c) => c.id === id)!;

/** With a flight controller that passes through, where the cable leads to it. */
function updated(first: BenchSetup): BenchSetup {
  const {identity, saved} = first.controller;
  if (first.road !== 'controller' || identity.version !== '2.0') return first;
  return {
    ...first,
    controller: {...withPlumb(identity.board, '2.2', identity), saved},
  };
}

interface HarnessOptions {
  readonly craft?: Craft;
  readonly seed?: number;
  /** Leaves a flight controller that passes through to no ESC as the demo finds it; else it is updated already. */
  readonly oldController?: boolean;
  /** Changes the bench's first state. */
  readonly setup?: (first: BenchSetup) => BenchSetup;
}

export class Harness {
  readonly time = new VirtualTime();
  readonly bench: SimulatedBench;
  readonly journal = new MemoryJournal();
  readonly cancel = {aborted: false};
  readonly pause = {paused: false};
  readonly craft: Craft;
  readonly claims = new Map<string, HardwareClaim>();
  /** Virtual ms between the first and the last journal entry of each write step. */
  readonly wireMs: number[] = [];
  private beganAt = new Map<string, number>();
  client: BenchClient;
  private connections = 0;
  /** What was kept before something was overwritten. */
  readonly kept: Found[] = [];
  /** Firmware of others that orders read out before they replaced it. */
  readonly applications = new KeptApplications(shelf);
  /** Changes made meanwhile that the person lets be overwritten. */
  readonly overwrite = new Set<string>();
  /** Cycles the battery and clips the adapter by itself when the runner asks for it. */
  personIsThere = true;

  constructor({craft = demoCraft('juniper'), seed = 1, oldController, setup = (first) => first}: HarnessOptions = {}) {
    this.craft = craft;
    const first = benches[craft.id]!(seed);
    this.bench = new SimulatedBench(setup(oldController ? first : updated(first)), this.time);
    this.client = this.connect();
  }

  connect(): BenchClient {
    return (this.client = new BenchClient(openPort(this.bench), this.time, `hand-${++this.connections}`));
  }

  run<T>(work: Promise<T>): Promise<T> {
    return runInVirtualTime(this.time, breathe, work);
  }

  get known(): KnownEscs {
    return {hardware: new Map(), claims: this.claims};
  }

  survey(): Promise<Found> {
    return this.run(survey(this.client, {at: 1, known: this.known}));
  }

  /** The survey round of a single-wire adapter: every arm in turn. */
  async surveyRound(): Promise<Found> {
    let found: Found | undefined;
    for (const output of this.craft.arms.keys()) {
      this.bench.clippedTo = output;
      found = await this.surveyArm(output, found);
    }
    return found!;
  }

  surveyArm(output: number, before?: Found): Promise<Found> {
    const options = {at: 1, output, outputs: this.craft.arms.length, before, known: this.known};
    return this.run(surveyArm(this.client, options));
  }

  async order(over: Partial<OrderQuestion> = {}): Promise<WorkOrder> {
    const craft = over.craft ?? this.craft;
    const found = over.found ?? (this.bench.road === 'controller' ? await this.survey() : await this.surveyRound());
    const board = controllerBoardOf(found, craft)?.board;
    const order = makeWorkOrder({
      ...{id: 'order-1', at: 2, craft, found, imageFor: shelf.imageFor(craft)},
      controllerImage: board === undefined ? undefined : shelf.controllerImage(craft, board),
      ...over,
    });
    if (!order.ok) throw new Error(order.problem.meaning);
    return order.value;
  }

  host(): RunnerHost {
    const person = personAt(this.bench, this.time, {offAfterMs: 500, onAfterMs: 1500});
    return {
      clock: this.time,
      today: () => 3,
      journal: {
        entries: (id) => this.journal.entries(id),
        append: (entry) => {
          if (entry.event === 'begin') this.beganAt.set(entry.stepId, this.time.now());
          if (entry.event === 'done' && entry.stepId.startsWith('write-'))
            this.wireMs.push(this.time.now() - this.beganAt.get(entry.stepId)!);
          return this.journal.append(entry);
        },
      },
      image: (sha256) => Promise.resolve(this.applications.image(sha256)),
      onProgress: (p) => {
        if (this.personIsThere) person(p);
      },
      measureReplies: (_step, cancel) =>
        measureReplies(this.client, {...replyQuestion(this.craft, undefined), cancel, clock: this.time}),
      measureMotion: (_step, cancel) => this.card(cancel),
      session: 'harness',
      ...{craft: this.craft, replaced: {}},
      keepSnapshot: (found) => {
        this.kept.push(found);
        return Promise.resolve();
      },
      keepApplication: (application) => {
        this.applications.keep(application);
        return Promise.resolve();
      },
      overwrite: this.overwrite,
      cancel: this.cancel,
      pause: this.pause,
    };
  }

  private async card(cancel: CancelSignal): Promise<MotionMeasure> {
    const {craft, time: clock} = this;
    const {endedBy, ...measured} = await runEveryCard(this.client, {craft, found: undefined, clock, cancel});
    if (endedBy) throw new ProblemError(endedBy);
    return measured;
  }

  carryOut(order: WorkOrder) {
    return this.carryOutWith(order, this.host());
  }

  /** Carries out with a host that a test has changed. */
  carryOutWith(order: WorkOrder, host: RunnerHost) {
    return this.run(runWorkOrder(this.client, order, host));
  }

  /** The application of an ESC, as long as the image of Meridian 4.2. */
  application(output: number): Uint8Array {
    const {application} = chips.M32;
    return this.bench.escs[output]!.flash.read(application.start, application42.length);
  }
}
