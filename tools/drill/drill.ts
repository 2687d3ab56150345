/** Random work orders against random mishaps, carried to their end; every account is held against the simulator's flash. */
import type {Craft} from '@core/craft/craft';
import {BenchClient} from '@core/link/client';
import {ProblemError} from '@core/problem';
import {MemoryJournal, type Journal} from '@core/work/journal';
import {buildRollBack} from '@core/work/roll-back';
import {runWorkOrder, type Outcome, type RunnerHost} from '@core/work/runner';
import {survey, surveyArm} from '@core/work/survey';
import type {Found} from '@core/work/found';
import {leavableSteps} from '@core/work/steps';
import {buildWorkOrder, type OrderQuestion, type WorkOrder} from '@core/work/work-order';
import {SimulatedBench} from '@simulator/bench';
import {openPort} from '@simulator/port';
import {Random} from '@simulator/random';
import {MemoryShelf} from '@simulator/testing/shelf';
import {runInVirtualTime, VirtualTime} from '@simulator/virtual-time';
import {makeScenario, type Scenario} from './scenario';
import {tame} from './tame';
import {armMishaps} from './trouble';
import {Witness} from './witness';

export interface DrillReport {
  readonly runs: number;
  /** ESCs whose bootloader was harmed or that no longer answer. */
  bricked: number;
  /** ESCs that ran an image for another bridge. */
  wrongImageRun: number;
  /** ESCs whose settings of before can be had nowhere, or that miss the new ones after a finished order. */
  settingsLost: number;
  /** Times the journal and the simulator's flash disagreed. */
  untrueAccounts: number;
  /** Orders that neither finished nor ended with a worn ESC isolated and the others done. */
  unresolved: number;
}

/** What shows that the mishaps did hit, and where to look when something is not zero. */
export interface DrillNotes {
  /** Times an order stopped and was resumed. */
  interruptions: number;
  /** Orders that ended with a worn ESC isolated. */
  isolated: number;
  rolledBack: number;
  /** Seeds of runs with anything that should be zero. */
  readonly seeds: number[];
}

export interface DrillOptions {
  readonly craft: string;
  readonly runs: number;
  readonly seed: number;
  readonly onRun?: (done: number) => void;
}

const breathe = () => new Promise<void>((resolve) => setImmediate(resolve));
const shelf = new MemoryShelf();
/** Attempts to resume an order before it counts as unresolved. */
const mostAttempts = 16;
/** One finished run in five is rolled back, with mishaps again. */
const leaveShare = 0.12;
const rollBackShare = 0.2;
/** Bytes that pass the cable in one undisturbed order, roughly, by chip. */
const cableBytes = {M32: 190_000, K8: 60_000};

export async function drill({
  craft,
  runs,
  seed,
  onRun,
}: DrillOptions): Promise<{report: DrillReport; notes: DrillNotes}> {
  const notes: DrillNotes = {interruptions: 0, isolated: 0, rolledBack: 0, seeds: []};
  const report: DrillReport = {
    runs,
    bricked: 0,
    wrongImageRun: 0,
    settingsLost: 0,
    untrueAccounts: 0,
    unresolved: 0,
  };
  for (let i = 0; i < runs; i++) {
    const own = seed * 1_000_003 + i;
    const bad = await new DrillRun(makeScenario(craft, own), own).go();
    report.bricked += bad.bricked;
    report.wrongImageRun += bad.wrongImageRun;
    report.settingsLost += bad.settingsLost;
    report.untrueAccounts += bad.untrue.length;
    report.unresolved += bad.unresolved;
    notes.interruptions += bad.interruptions;
    notes.isolated += bad.isolated;
    notes.rolledBack += bad.rolledBack;
    if (bad.bricked + bad.wrongImageRun + bad.settingsLost + bad.untrue.length + bad.unresolved) notes.seeds.push(own);
    onRun?.(i + 1);
  }
  return {report, notes};
}

export interface RunVerdict {
  bricked: number;
  wrongImageRun: number;
  settingsLost: number;
  unresolved: number;
  interruptions: number;
  isolated: number;
  rolledBack: number;
  readonly untrue: readonly string[];
  /** How the last order ended, for a second look. */
  ended: string;
}

export class DrillRun {
  private readonly time = new VirtualTime();
  private readonly random: Random;
  private readonly bench: SimulatedBench;
  private readonly witness: Witness;
  private readonly journal: Journal = new MemoryJournal();
  private client: BenchClient;
  private dead = false;
  private cancel = {aborted: false};
  private verdict: RunVerdict;

  constructor(
    private readonly scenario: Scenario,
    seed: number,
    /** Lets a test tell lies, to see that they are found. */
    private readonly spoilEntry: (entry: Parameters<Journal['append']>[0]) => Parameters<Journal['append']>[0] = (e) =>
      e,
  ) {
    this.random = new Random(seed ^ 0xd1_11);
    this.bench = new SimulatedBench(scenario.setup, this.time);
    this.witness = new Witness(this.bench, (sha256) => shelf.image(sha256));
    this.client = new BenchClient(openPort(this.bench), this.time);
    const zero = {bricked: 0, wrongImageRun: 0, settingsLost: 0, unresolved: 0};
    this.verdict = {...zero, interruptions: 0, isolated: 0, rolledBack: 0, untrue: this.witness.untrue, ended: ''};
  }

  async go(): Promise<RunVerdict> {
    const found = await this.survey();
    const craft = tame(this.scenario.craft, found, shelf.imageFor(this.scenario.craft));
    this.verdict.wrongImageRun += this.wrongImagesTaken(craft, found);
    const question = {id: 'drill', at: 0, craft, found, imageFor: shelf.imageFor(craft)};
    const part = buildWorkOrder({...question, ...this.leftOut(found)});
    // What is left out can make the rest refused: a value that only the left firmware takes. Then the whole is drilled.
    const built = part.ok ? part : buildWorkOrder(question);
    if (!built.ok) return this.give(`refused: ${built.problem.meaning}`);
    const outcome = await this.carryThrough(built.value);
    if (outcome?.kind === 'finished') {
      this.verdict.settingsLost += this.witness.missedSettings(built.value);
      if (this.random.next() < rollBackShare) await this.rollBack(built.value);
    }
    return this.verdict;
  }

  /** What the person leaves out: now and then one motor, now and then one kind of step. */
  private leftOut({escs}: Found): Pick<OrderQuestion, 'leave' | 'leaveSteps'> {
    const {random} = this;
    const leave = random.next() < leaveShare ? [escs[random.below(escs.length)]!.output] : [];
    const leaveSteps = random.next() < leaveShare ? [leavableSteps[random.below(leavableSteps.length)]!] : [];
    return {leave, leaveSteps};
  }

  /** Offers images of other boards, variants and dead times as the planned one; none may get into an order. */
  private wrongImagesTaken(craft: Craft, found: Found): number {
    const wrong = shelf.find(
      (r) => (r.board !== craft.escBoard || r.variant.startsWith('heli')) && this.random.next() < 0.2,
    );
    const built = wrong && buildWorkOrder({id: 'x', at: 0, craft, found, imageFor: () => wrong});
    return built?.ok && built.value.steps.some((s) => s.kind === 'write-firmware' || s.kind === 'visit') ? 1 : 0;
  }

  private async rollBack(order: WorkOrder): Promise<void> {
    await this.recover();
    const imageBefore = (before: Found['escs'][number]) =>
      shelf.find(
        (r) =>
          r.variant === 'multirotor' &&
          r.board === before.hardware?.board &&
          r.version === before.identity?.version &&
          r.pwmKhz === before.identity.pwmKhz,
      );
    const {craft} = this.scenario;
    const back = buildRollBack({id: 'back', at: 1, craft, order, found: await this.surveyAgain(), imageBefore});
    if (back.ok) {
      this.verdict.rolledBack++;
      await this.carryThrough(back.value);
    } else if (back.problem.code !== 'roll-back-road') this.give(`roll-back refused: ${back.problem.meaning}`);
  }

  private give(ended: string): RunVerdict {
    this.verdict.unresolved++;
    this.verdict.ended = ended;
    return this.verdict;
  }

  /** Carries an order out with mishaps, resuming until it finishes or nothing more can be done. */
  private async carryThrough(order: WorkOrder): Promise<Outcome | undefined> {
    // The reply proof turns motors for seconds and leaves flash alone: core/work/runner.test.ts has it.
    const drilled = {...order, steps: order.steps.filter((s) => s.kind !== 'prove-replies')};
    armMishaps(this.bench, this.time, this.random, {
      bytes: cableBytes[this.bench.escs[0]!.hardware.chip],
      hooks: {
        reload: () => {
          this.dead = true;
          void this.client.close();
        },
        stop: () => (this.cancel.aborted = true),
      },
    });
    let outcome: Outcome | undefined;
    for (let attempt = 0; attempt < mostAttempts; attempt++) {
      outcome = await this.run(runWorkOrder(this.client, drilled, this.host(drilled)));
      const entries = await this.journal.entries(order.id);
      if (!order.rollsBack) this.verdict.settingsLost += this.witness.lostSettings(order, entries);
      await this.recover();
      this.verdict.bricked += this.witness.bricked();
      this.verdict.wrongImageRun += this.witness.wrongImages();
      if (outcome.kind === 'finished') return outcome;
      this.verdict.interruptions++;
      const worn = this.bench.escs.some((e) => e.flash.worn.size > 0);
      if (worn && outcome.problem.code === 'page-check' && attempt > 3) {
        this.verdict.isolated++;
        return outcome;
      }
    }
    const last =
      outcome?.kind === 'stopped' ? `${outcome.step.id}: ${outcome.problem.code} ${outcome.problem.meaning}` : '';
    this.give(last);
    return undefined;
  }

  private host(order: WorkOrder): RunnerHost {
    this.dead = false;
    this.cancel = {aborted: false};
    let asked = false;
    return {
      clock: this.time,
      today: () => this.time.now(),
      journal: {
        entries: (id) => this.journal.entries(id),
        append: (entry) => {
          // After a reload nothing is written any more; the promise of a page that is gone never settles.
          if (this.dead) return Promise.resolve();
          const told = this.spoilEntry(entry);
          this.witness.hear(order, told);
          return this.journal.append(told);
        },
      },
      image: (sha256) => Promise.resolve(shelf.image(sha256)),
      onProgress: (p) => {
        if (p.waitsFor === 'clip') this.bench.clippedTo = p.output;
        if (p.waitsFor !== 'battery' || asked) return;
        asked = true;
        this.time.after(200, () => this.bench.setBattery(false));
        this.time.after(900, () => this.bench.setBattery(true));
      },
      measureReplies: () => Promise.resolve([]),
      session: 'drill',
      keepSnapshot: () => Promise.resolve(),
      cancel: this.cancel,
    };
  }

  /** What a person does after a stop: waits, connects battery and cable again. */
  private async recover(): Promise<void> {
    this.time.advanceTo(this.time.now() + 25_000);
    if (!this.bench.isBatteryOn) this.bench.setBattery(true);
    this.time.advanceTo(this.time.now() + 1_000);
    if (this.client.isClosed) this.client = new BenchClient(openPort(this.bench), this.time);
    await breathe();
  }

  /** A mishap left over from the order before may end this survey or silence it; a person surveys again. */
  private async surveyAgain(): Promise<Found> {
    for (;;) {
      try {
        const found = await this.survey();
        if (!found.silent.length) return found;
        await this.recover();
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error;
        await this.recover();
      }
    }
  }

  private async survey(): Promise<Found> {
    const known = {hardware: new Map(), claims: this.scenario.claims};
    if (this.bench.road === 'controller') return this.run(survey(this.client, {at: 0, known}));
    let found: Found | undefined;
    const outputs = this.bench.escs.length;
    for (let output = 0; output < outputs; output++) {
      this.bench.clippedTo = output;
      found = await this.run(surveyArm(this.client, {at: 0, known, output, outputs, before: found}));
    }
    return found!;
  }

  private run<T>(work: Promise<T>): Promise<T> {
    return runInVirtualTime(this.time, breathe, work);
  }
}
