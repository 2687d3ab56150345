/** One drill run: a bench, a plan, an order, mishaps, and the person who resumes until it is done. */
import {ProblemError, success, type Result} from '@core/problem';
import type {JournalEntry} from '@core/run/journal';
import {runWorkOrder, type Outcome, type RunnerHost} from '@core/run/runner';
import {survey, surveyArm} from '@core/bench/survey';
import type {Found} from '@core/bench/found';
import {writtenBy} from '@core/run/resume/written-by';
import type {CraftRecord} from '@core/route/craft-record';
import {makeRollBack, makeWorkOrder} from '@core/run/order/make-order';
import type {WorkOrder} from '@core/order/work-order';
import {SimulatedBench} from '@simulator/hardware/bench';
import {Random} from '@simulator/random';
import {personAt} from '@simulator/testing/person';
import {runInVirtualTime, VirtualTime} from '@core/link/virtual-time';
import {zeroCounters, zeroNotes, type Counters, type DrillNotes} from './counters';
import {FailingStore, StoreFault} from './failing-store';
import type {Scenario} from './scenario';
import {meddle, settingsPage, swapPlugs, type Meddled} from './someone';
import {spinOnce, spinTrouble} from './spin-episode';
import type {Sabotage} from './sabotage';
import {tame} from './tame';
import {KeptApplications} from '@simulator/testing/kept-applications';
import {imagesFor, leftOut, newOrder, shelf, withoutReplies, wrongImagesTaken} from './questions';
import {notAsBefore, withoutPages} from './as-before';
import {live} from './life';
import {ProvenCraft} from './proven-craft';
import {Tab} from './tab';
import {armMishaps} from './trouble';
import {beginning, changing} from './watched-port';
import {Witness} from './witness';

const breathe = () => new Promise<void>((resolve) => setImmediate(resolve));
/** Attempts to resume an order before it counts as unresolved. */
const maxAttempts = 24;
/** One finished run in five is rolled back, with mishaps again. */
const rollBackShare = 0.2;
/** Runs in which someone works at the bench between stop and resume, and runs in which motors are held. */
const someoneShare = 0.25;
const spinShare = 0.3;
/** Runs in which a finished craft is proven whole, and changed again and again. */
const lifeShare = 0.3;
/** Bytes that pass the cable in one undisturbed order, roughly, by chip. */
const cableBytes = {M32: 190_000, K8: 60_000};
/** The order that was carried out in the end, and how that ended. */
interface Carried {
  readonly order: WorkOrder;
  readonly outcome: Outcome;
}

interface RunVerdict {
  readonly counters: Counters;
  readonly notes: DrillNotes;
  readonly untrue: readonly string[];
  /** How the last order ended, for a second look. */
  ended: string;
}

export class DrillRun {
  private readonly time = new VirtualTime();
  private readonly random: Random;
  private readonly bench: SimulatedBench;
  private readonly witness: Witness;
  private readonly journal: FailingStore;
  private readonly counters = zeroCounters();
  private readonly notes = zeroNotes();
  /** Firmware of others that orders read out before they replaced it. */
  private readonly applications = new KeptApplications(shelf);
  private readonly tab: Tab;
  private readonly page: ProvenCraft;
  private sessions = 0;
  private dead = false;
  private running = false;
  private cancel = {aborted: false};
  private ended = '';
  private meddled: Meddled[] = [];
  private snapshots: Found[] = [];
  private overwrite = new Set<string>();

  constructor(
    private readonly scenario: Scenario,
    seed: number,
    private readonly sabotage: Sabotage = {},
  ) {
    this.random = new Random(seed ^ 0xd1_11);
    this.bench = new SimulatedBench(scenario.setup, this.time, {
      page: () => undefined,
      controller: () => undefined,
      power: () => undefined,
      repeated: (argument) => {
        this.notes.repeated++;
        this.witness.disturbed(argument);
      },
    });
    sabotage.bench?.(this.bench);
    this.journal = new FailingStore(this.random);
    this.witness = new Witness(this.bench, this.applications);
    const {craft} = scenario;
    this.page = new ProvenCraft({
      ...{craft, bench: this.bench, time: this.time, random: new Random(seed ^ 0x9ec0), sabotage: sabotage.record},
    });
    this.page.connected(`session ${++this.sessions}`);
    this.tab = new Tab({
      ...{bench: this.bench, time: this.time, random: this.random},
      isWatched: () => !this.running || this.journal.toldGone,
      onRequest: (operation) => {
        if ((this.running ? beginning : changing).has(operation)) this.counters.orphanedWriters++;
      },
    });
  }

  /** A new connection is a new session: what was proven in the one before was proven earlier. */
  private connect(): void {
    this.page.connected(`session ${++this.sessions}`);
    if (this.dead) this.tab.load();
    else this.tab.connect();
  }

  async go(): Promise<RunVerdict> {
    await this.drill();
    this.counters.untrueAccounts = this.witness.untrue.length;
    this.counters.emptyProofs = this.witness.emptyProofs;
    this.counters.falseProofs = this.page.falseProofs.length;
    this.notes.takenBack = this.page.takenBack;
    this.notes.recordFaults = this.page.table.faults;
    const lost = await this.page.lost();
    this.counters.lostRecords = lost.length;
    this.notes.measured = this.page.measured;
    this.notes.held = this.page.held;
    return {
      counters: this.counters,
      notes: this.notes,
      untrue: [...this.witness.untrue, ...this.page.falseProofs, ...lost],
      ended: this.ended,
    };
  }

  private async drill(): Promise<void> {
    const found = await this.surveyAgain();
    const craft = tame(this.scenario.craft, found, shelf.imageFor(this.scenario.craft));
    this.page.craft = craft;
    this.found(found);
    this.counters.wrongImageRun += wrongImagesTaken(craft, found, this.random);
    const question = {id: `drill${found.escs.length ? '' : '-first'}`, at: 0, craft, found, ...imagesFor(craft, found)};
    const part = makeWorkOrder({...question, ...leftOut(found, this.random)});
    // What is left out can make the rest refused: a value that only the left firmware takes. Then the whole is drilled.
    const built = part.ok ? part : makeWorkOrder(question);
    if (!built.ok) return this.unresolved(`refused: ${built.problem.meaning}`);
    const renew = (found: Found, id: string) => {
      const {made, craft: amended} = newOrder({...question, id, found});
      this.page.craft = amended;
      return made;
    };
    const carried = await this.carryThrough(built.value, renew);
    if (carried?.outcome.kind === 'finished') {
      // What someone changed after the proof and nobody overwrote is not the order's to answer for.
      const someones = new Set(this.meddled.map((m) => m.output));
      this.counters.settingsLost += this.witness.missedSettings(carried.order, someones);
      this.counters.settingsLost += this.witness.missedController(carried.order) + this.witness.foreignLost;
      // Behind a flight controller that passed through to no ESC, they are what comes next.
      if (!found.escs.length && this.bench.loader.firmware) {
        await this.recover();
        return this.drill();
      }
      if (this.random.next() < rollBackShare) await this.rollBack(carried.order);
    }
    if (this.sabotage.spins ?? this.random.next() < spinShare) await this.spin();
    if (this.sabotage.lives ?? this.random.next() < lifeShare) await this.live();
  }

  private async rollBack(order: WorkOrder): Promise<void> {
    await this.recover();
    const {craft} = this.scenario;
    const {supply} = this.applications;
    const renew = (found: Found, id: string) => {
      const made = makeRollBack({id, at: 1, craft, order, found, supply});
      return made.ok && this.sabotage.lazyRollBack ? success(withoutPages(made.value)) : made;
    };
    const back = renew(await this.surveyAgain(), 'back');
    if (back.ok) {
      this.notes.rolledBack++;
      const carried = await this.carryThrough(back.value, renew);
      if (carried?.outcome.kind === 'finished' && !this.witness.isDisturbedAtAll)
        await this.holdAgainst(order.found, carried.order);
    } else if (!this.refusesRightly(back.problem.code)) this.unresolved(`roll-back refused: ${back.problem.meaning}`);
  }

  /** Where the road cannot; and where the order began from what another one, whose store was deleted, had half written. */
  private refusesRightly(code: string): boolean {
    return code === 'roll-back-road' || (this.notes.emptied > 0 && code === 'no-image-before');
  }

  /** A finished roll-back against what was found before the order that it undoes. */
  private async holdAgainst(before: Found, back: WorkOrder): Promise<void> {
    const wrong = notAsBefore(before, await this.surveyAgain(), back);
    if (wrong.length) this.ended = `rolled back: ${wrong.join('; ')}`;
    this.counters.rolledBackWrong += wrong.length;
  }

  private unresolved(ended: string): void {
    this.counters.unresolved++;
    this.ended = ended;
  }

  /**
   * Carries an order out with mishaps, resuming until it finishes or nothing more can be done. An order that the bench has
   * overtaken is put away, and `renew` makes the one that follows from what is there now.
   */
  private async carryThrough(
    order: WorkOrder,
    renew: (found: Found, id: string) => Result<WorkOrder>,
  ): Promise<Carried | undefined> {
    let drilled = withoutReplies(order);
    const someone = this.sabotage.someone ?? this.random.next() < someoneShare;
    this.witness.forget();
    this.armMishaps();
    let outcome: Outcome | undefined;
    for (let attempt = 0; attempt < maxAttempts; attempt++) {
      outcome = await this.attempt(drilled);
      const isGone = this.journal.isGone;
      const entries = await this.journal.kept(drilled.id);
      // What went with a store that someone deleted is nobody's loss but theirs.
      if (isGone) this.emptied();
      else if (!order.rollsBack) this.counters.settingsLost += this.witness.lostSettings(order, entries);
      this.countOverwritten(entries);
      await this.recover();
      this.counters.bricked += this.witness.bricked();
      this.counters.wrongImageRun += this.witness.wrongImages();
      if (!outcome || outcome.kind === 'stopped') this.notes.interruptions++;
      if (outcome?.kind === 'finished' || (outcome && this.isGivenUp(outcome, attempt)))
        return {outcome, order: drilled};
      // The order that is undone went with its store.
      if (isGone && order.rollsBack) return undefined;
      if (isGone || outcome?.problem.code === 'found-changed') {
        const next = renew(await this.surveyAgain(), `${order.id}-${attempt}`);
        if (!next.ok) return void this.unresolved(`new order refused: ${next.problem.meaning}`);
        drilled = withoutReplies(next.value);
        this.witness.forget();
        this.notes.renewed++;
        // What an order without steps would do is done.
        if (!drilled.steps.length) return outcome && {outcome, order: drilled};
        continue;
      }
      this.overwrite = new Set(outcome?.changes?.map((c) => c.key) ?? []);
      if (outcome?.changes) this.notes.asked++;
      if (someone && this.random.next() < 0.5) await this.someoneCame(drilled);
    }
    const why = outcome?.kind === 'stopped' && `${outcome.step.id}: ${outcome.problem.code} ${outcome.problem.meaning}`;
    return void this.unresolved(why || 'threw');
  }

  private armMishaps(): void {
    armMishaps(this.bench, this.time, this.random, {
      bytes: cableBytes[this.bench.escs[0]!.hardware.chip],
      hooks: {
        reload: () => {
          this.dead = true;
          void this.tab.client.close();
        },
        stop: () => (this.cancel.aborted = true),
        stall: () => this.tab.stall(),
        empty: () => (this.journal.isGone = true),
        store: (chance) => (this.journal.chance = chance),
      },
    });
  }

  /** Something is worn and stays so: the order ends with it isolated. */
  private isGivenUp(outcome: Extract<Outcome, {kind: 'stopped'}>, attempt: number): boolean {
    const worn = this.bench.escs.some((e) => e.flash.worn.size > 0) || this.bench.controller.worn;
    const {code} = outcome.problem;
    if (!worn || !['page-check', 'controller-check'].includes(code) || attempt <= 3) return false;
    this.notes.isolated++;
    return true;
  }

  /** One attempt; undefined when it stopped at no step: the store failed in a way that the runner does not know. */
  private async attempt(order: WorkOrder): Promise<Outcome | undefined> {
    this.running = true;
    try {
      const outcome = await this.run(runWorkOrder(this.tab.client, order, this.host(order)));
      if (outcome.found) this.found(outcome.found);
      return outcome;
    } catch (error) {
      // An order that has nothing to do has no step to stop at: its problem is thrown.
      const isStop = error instanceof ProblemError && !order.steps.length;
      if (!(error instanceof StoreFault) && !isStop) throw error;
      return undefined;
    } finally {
      this.running = false;
      if (this.sabotage.orphan)
        void this.tab.client.request('esc.erase', {output: 0, address: 0xf000}).catch(() => undefined);
      await breathe();
    }
  }

  /** The page is loaded again, on a store that knows nothing of the order. */
  private emptied(): void {
    this.notes.emptied++;
    this.journal.begin();
    this.meddled = [];
    this.dead = true;
    void this.tab.client.close();
  }

  /** Settings that someone put there and that are neither in flash nor in any snapshot any more. */
  private countOverwritten(entries: readonly JournalEntry[]): void {
    const isSame = (a: Uint8Array, b: Uint8Array) => a.every((byte, i) => byte === b[i]);
    this.meddled = this.meddled.filter(({output, page, reads}) => {
      if (isSame(settingsPage(this.bench, output), page)) return true;
      if (!reads) return false;
      const inJournal = entries.some((e) => e.snapshot?.some((s) => isSame(s.page, page)));
      const inSnapshot = this.snapshots.some((f) => f.escs.some((e) => isSame(e.settingsPage, page)));
      if (!inJournal && !inSnapshot) this.counters.overwrittenUnseen++;
      return false;
    });
  }

  /** Someone changes settings, or swaps two plugs and puts them back after the order was tried. */
  private async someoneCame(order: WorkOrder): Promise<void> {
    // Whoever works at the bench takes the cable out first.
    await this.tab.client.close();
    this.connect();
    if (this.random.next() < 0.6) {
      const change = meddle(this.bench, this.random);
      if (!change) return;
      const others = this.meddled.filter((m) => m.output !== change.output);
      this.meddled = [...others, change];
      this.witness.someoneChanged(change.output, change.reads);
      return;
    }
    const putBack = this.bench.road === 'controller' ? swapPlugs(this.bench, this.random) : undefined;
    if (!putBack) return;
    this.witness.isSwapped = true;
    await this.attempt(order);
    putBack();
    this.witness.isSwapped = false;
    await this.recover();
  }

  private host(order: WorkOrder): RunnerHost {
    this.dead = false;
    this.cancel = {aborted: false};
    this.snapshots = [];
    const keep = async (put: () => unknown) => {
      await this.journal.keep();
      if (!this.sabotage.careless) put();
    };
    return {
      clock: this.tab.clock,
      today: () => this.time.now(),
      session: this.page.sessionOfNow,
      ...{craft: this.page.craft, replaced: this.record.replaced},
      journal: {
        entries: (id) => this.journal.entries(id),
        append: (entry) => {
          // After a reload nothing is written any more; the promise of a page that is gone never settles.
          if (this.dead) return Promise.resolve();
          const told = this.sabotage.entry?.(entry) ?? entry;
          if (told.event === 'reopened') this.notes.reopened++;
          this.witness.hear(order, told);
          return this.journal.append(told).then(() => this.follow(order, told));
        },
      },
      image: (sha256) => Promise.resolve(this.applications.image(sha256)),
      keepSnapshot: (found) => keep(() => this.snapshots.push(found)),
      keepApplication: (application) => keep(() => this.applications.keep(application)),
      overwrite: this.sabotage.careless ? {...this.overwrite, has: () => true} : this.overwrite,
      onFound: this.found,
      onProgress: personAt(this.bench, this.time, {offAfterMs: 200, onAfterMs: 900}),
      measureReplies: () => Promise.resolve([]),
      measureMotion: () => Promise.reject(new Error('A drilled order proves no motion: tools/drill/measuring.ts does')),
      cancel: this.cancel,
    };
  }

  /**
   * A craft is proven whole, goes off the cable, and someone changes it: fields, plugs, an ESC, a motor, its flight
   * controller. Whatever still stands after it was read again must be true.
   */
  private async live(): Promise<void> {
    const {bench, random, page} = this;
    if (bench.road !== 'controller' || !bench.loader.firmware) return;
    await this.recover();
    this.notes.meddlings += await live({
      ...{bench, random, page, tab: this.tab, time: this.time},
      run: (work) => this.run(work),
      recover: () => this.recover(),
      survey: async () => this.found(await this.surveyAgain()),
      reconnect: async () => {
        await this.tab.client.close();
        this.connect();
      },
    });
  }

  private get record(): CraftRecord {
    return this.page.record;
  }

  private readonly found = (found: Found): void => this.page.found(found);
  /** What the application notes as an order goes: what is written, what is proven. */
  private follow(order: WorkOrder, entry: JournalEntry): void {
    const {page} = this;
    if (entry.proof && !this.witness.isDisturbedAtAll) page.proven(entry.proof);
    const step = order.steps.find((s) => s.id === entry.stepId);
    if (entry.event === 'begin' && step) for (const part of writtenBy(order, step)) page.written(part);
    if (entry.event !== 'page' && !this.witness.isDisturbedAtAll) page.check(this.record.found?.power.cycles);
  }

  private async spin(): Promise<void> {
    const {bench, time, random} = this;
    bench.plugInto('controller');
    await this.recover();
    for (let i = 1 + random.below(4); i > 0; i--) {
      spinTrouble({bench, time, random, tab: this.tab});
      const turned = await this.run(spinOnce({bench, time, random, tab: this.tab}));
      if (turned !== undefined) this.notes.holds++;
      this.counters.turnedAfterStop += turned ?? 0;
      await this.recover();
    }
  }

  /** What a person does after a stop: waits, connects battery and cable again. */
  private async recover(): Promise<void> {
    this.notes.storeFaults += this.journal.faults;
    this.journal.chance = this.journal.faults = 0;
    this.time.advanceTo(this.time.now() + 25_000);
    if (!this.bench.isBatteryOn) this.bench.setBattery(true);
    this.time.advanceTo(this.time.now() + 1_000);
    if (this.tab.client.isClosed) this.connect();
    await breathe();
  }

  /** A mishap left over from the order before may end this survey or silence it; a person surveys again. */
  private async surveyAgain(): Promise<Found> {
    for (;;) {
      try {
        const found = await this.survey();
        const blocked = ['no-pass-through', 'in-loader'];
        if (found.silent.every((s) => blocked.includes(s.problem.code))) return found;
        await this.recover();
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error;
        await this.recover();
      }
    }
  }

  private async survey(): Promise<Found> {
    const known = {hardware: new Map(), claims: this.scenario.claims};
    if (this.bench.road === 'controller') return this.run(survey(this.tab.client, {at: 0, known}));
    let found: Found | undefined;
    const outputs = this.bench.escs.length;
    for (let output = 0; output < outputs; output++) {
      this.bench.clippedTo = output;
      found = await this.run(surveyArm(this.tab.client, {at: 0, known, output, outputs, before: found}));
    }
    return found!;
  }

  private run<T>(work: Promise<T>): Promise<T> {
    return runInVirtualTime(this.time, breathe, work);
  }
}
