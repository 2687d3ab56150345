/**
 * What a page keeps of a craft in a drill: found, proofs, sightings, in a store that fails now and then, by the same steps as
 * the application. Every proof is remembered with the simulator's truth of its moment and held against the truth of later.
 */
import type {Found} from '@core/bench/found';
import type {Part} from '@core/bench/replaced';
import type {Craft} from '@core/craft/craft';
import {wholePlan} from '@core/craft/whole-plan';
import {canonicalJson} from '@core/canonical-json';
import {countOf, isSome, type NewProof, type ProofKind} from '@core/proof/proof';
import {
  withFound,
  withPartReplaced,
  withProofs,
  withSighting,
  withWritten,
  type CraftRecord,
} from '@core/route/craft-record';
import {groundsOf} from '@core/route/proof-table';
import {RecordKeeper, type RecordStep, type RecordTable} from '@core/route/record-keeper';
import {unreadSince} from '@core/proof/standing';
import {sightingQuestion, standings, type RouteQuestion} from '@core/route/standings';
import {groundsOfSighting, sightingNow, type Sighting} from '@core/spin/sighting';
import type {SimulatedBench} from '@simulator/hardware/bench';
import type {Random} from '@simulator/random';
import type {VirtualTime} from '@core/link/virtual-time';
import {seenTruth, truthOf} from './truth';

/** A table of records that fails now and then, in reading and in writing. */
class FailingTable implements RecordTable {
  chance = 0;
  faults = 0;
  private readonly kept = new Map<string, CraftRecord>();

  constructor(private readonly random: Random) {}

  async read(craftId: string): Promise<CraftRecord | undefined> {
    this.mayFail();
    return Promise.resolve(this.kept.get(craftId));
  }
  async update(craftId: string, how: (kept: CraftRecord | undefined) => CraftRecord): Promise<CraftRecord> {
    this.mayFail();
    const record = how(this.kept.get(craftId));
    this.kept.set(craftId, record);
    return Promise.resolve(record);
  }
  private mayFail(): void {
    if (this.random.next() >= this.chance) return;
    this.faults++;
    throw new Error('UnknownError');
  }
}

/** Kinds that a person measures beside a work order. */
const measured = ['replies', 'motion', 'mounting', 'receiver', 'fail-safe'] as const;

export interface ProvenCraftHost {
  readonly craft: Craft;
  readonly bench: SimulatedBench;
  readonly time: VirtualTime;
  readonly random: Random;
  /** Lets a test break what is guarded: proofs that take whatever there is for what they rest on, records that forget. */
  readonly sabotage?: 'forgiving' | 'forgetful' | undefined;
}

export class ProvenCraft {
  /** Proofs and sightings that stood although the truth was another one. */
  readonly falseProofs: string[] = [];
  takenBack = 0;
  readonly table: FailingTable;
  private session = 'first';
  /** The bench was read in this session: what stands was held against it. */
  private isRead = false;
  /** With the plan of now. */
  craft: Craft;
  private keeper: RecordKeeper;
  /** By kind and moment: places in the running count are given anew where a store that failed is read later. */
  private readonly truths = new Map<string, string>();
  private readonly told = new Set<string>();
  /** Notes that a person wrote, in their order: each must come to the store. */
  private readonly notes: string[] = [];
  private opened = 0;

  constructor(private readonly host: ProvenCraftHost) {
    this.craft = host.craft;
    this.table = new FailingTable(host.random);
    this.keeper = this.newKeeper();
    void this.keeper.open();
  }

  /** A new connection: whatever happened off the cable has not been read yet. */
  connected(session: string): void {
    this.session = session;
    this.isRead = false;
  }

  get sessionOfNow(): string {
    return this.session;
  }

  get record(): CraftRecord {
    return this.keeper.record;
  }

  /** The page is loaded again: what was kept is read, perhaps at the second try. */
  async reload(): Promise<void> {
    await this.settle();
    this.keeper.close();
    this.keeper = this.newKeeper();
    await this.keeper.open();
  }

  found(found: Found): void {
    this.isRead = true;
    this.change((record) => withFound(record, found));
  }

  written(part: Parameters<typeof withWritten>[1]): void {
    this.change((record) => withWritten(record, part, 0));
  }

  /** A proof that was measured just now: the truth of this moment is what it says. */
  proven(proof: NewProof): void {
    this.change((record) => withProofs(record, [proof]));
    this.truths.set(nameOf(proof), truthOf(proof.kind, this.host.bench));
  }

  replaced(part: Part): void {
    this.change((record) => withPartReplaced(record, part));
  }

  note(): void {
    const text = `note ${this.notes.length}`;
    this.notes.push(text);
    if (this.host.sabotage === 'forgetful') return;
    this.change(({notes = []}) => ({notes: [...notes, {at: 0, text}].slice(-500)}));
  }

  /** A person measures and sees everything, on what the last survey found. */
  measureAll(): void {
    const {craft} = this;
    const {found, replaced} = this.record;
    if (!found?.controller || found.escs.length < craft.arms.length) return;
    const on = found.escs.map(({output, boot: {serial}}) => ({output, serial}));
    const about = {
      at: this.host.time.now(),
      session: this.session,
      cycles: found.power.cycles,
      holds: true,
      text: 'drilled',
    };
    for (const kind of measured) {
      const grounds = groundsOf(kind, {craft, plan: wholePlan(craft), found, replaced});
      if (isSome(on)) this.proven({...about, kind, grounds, on, count: countOf(4)!});
    }
    for (const output of craft.arms.keys()) this.see(output, found);
  }

  private see(output: number, found: Found): void {
    const {
      craft,
      host: {bench},
    } = this;
    const sense = bench.train.turnsClockwise(output) ? ('clockwise' as const) : ('counter-clockwise' as const);
    const sighting: Omit<Sighting, 'place'> = {
      ...{
        output,
        arm: bench.arms[output]!,
        sense,
        session: this.session,
        cycles: found.power.cycles,
        at: this.host.time.now(),
      },
      ...{startsAtUs: undefined, coastDownS: undefined},
      rotationSetting: found.escs.find((e) => e.output === output)?.settings?.values.rotation,
      grounds: groundsOfSighting({output, arm: bench.arms[output]!}, {craft, found, replaced: this.record.replaced}),
    };
    this.change((record) => withSighting(record, sighting));
    this.truths.set(nameOf({kind: `sighting of ${output}`, at: sighting.at}), seenTruth(output, bench));
  }

  /** Holds every proof that stands against the truth of now. */
  check(cycles: number | undefined): void {
    const {
      craft,
      host: {bench},
    } = this;
    const record = this.host.sabotage === 'forgiving' ? this.forgiven() : this.record;
    const q: RouteQuestion = {craft, record, now: {session: this.session, cycles}};
    const {foundPlace, sightings} = this.record;
    for (const [kind, s] of Object.entries(standings(q)) as [ProofKind, ReturnType<typeof standings>[ProofKind]][]) {
      if (s.kind === 'none') continue;
      const {place} = s.proof;
      // What was not read again may be anything; it says so.
      const isRead = this.isRead && foundPlace > place && s.kind === 'earlier' && s.since !== unreadSince;
      const stands = s.kind === 'current' || isRead;
      this.hold(nameOf(s.proof), stands, truthOf(kind, bench));
      if (s.kind === 'void')
        this.takenBack += Number(!this.told.has(`${kind} ${place}`) && !!this.told.add(`${kind} ${place}`));
    }
    for (const s of sightings) {
      const {changes, unread} = sightingNow(s, sightingQuestion(q));
      const stands = this.isRead && !changes.length && !unread.length && foundPlace > s.place;
      this.hold(nameOf({kind: `sighting of ${s.output}`, at: s.at}), stands, seenTruth(s.output, bench));
    }
  }

  /** Every proof with what is there now for its grounds. */
  private forgiven(): CraftRecord {
    const {craft, record} = this;
    const {found, replaced, proofs} = record;
    const q = {craft, plan: wholePlan(craft), found, replaced};
    return {...record, proofs: proofs.map((proof) => ({...proof, grounds: groundsOf(proof.kind, q)}))};
  }

  private hold(name: string, stands: boolean, is: string): void {
    const was = this.truths.get(name);
    if (stands && was !== undefined && was !== is && !this.falseProofs.includes(name)) this.falseProofs.push(name);
  }

  /** What a person wrote and is not in the store, nor on its way there. */
  async lost(): Promise<number> {
    this.table.chance = 0;
    await this.settle();
    const kept = canonicalJson((await this.table.read(this.host.craft.id))?.notes?.map((n) => n.text) ?? []);
    return kept === canonicalJson(this.notes) ? 0 : 1;
  }

  private change(step: RecordStep): void {
    void this.keeper.change(step);
  }

  /** Until everything that waits was tried again and kept. */
  private async settle(): Promise<void> {
    const {time} = this.host;
    for (let i = 0; i < 20; i++) {
      await new Promise<void>((resolve) => setImmediate(resolve));
      time.advanceTo(time.now() + 2_000);
    }
    await new Promise<void>((resolve) => setImmediate(resolve));
  }

  private newKeeper(): RecordKeeper {
    const {
      craft,
      host: {time},
    } = this;
    return new RecordKeeper(this.table, craft.id, `page ${this.opened++}`, {
      clock: time,
      onRecord: () => undefined,
      onFault: () => undefined,
    });
  }
}

const nameOf = ({kind, at}: {readonly kind: string; readonly at: number}): string => `${kind} at ${at} ms`;
