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
import {MemoryRecords} from '@core/route/memory-records';
import {RecordKeeper, type RecordStep, type RecordTable} from '@core/route/record-keeper';
import {unreadSince} from '@core/proof/standing';
import {sightingQuestion, standings, type RouteQuestion} from '@core/route/standings';
import {groundsOfSighting, sightingNow, tellsSense, type Sighting} from '@core/spin/sighting/sighting';
import type {SimulatedBench} from '@simulator/hardware/bench';
import type {Random} from '@simulator/random';
import type {VirtualTime} from '@core/link/virtual-time';
import {measure, measuredKinds, type Measured, type MeasuredKind, type Measurer} from './measuring';
import {deniedBy} from './reality';
import type {Sabotage} from './sabotage';
import {seenTruth, truthOf} from './truth';

/** A table of records that fails now and then, in reading and in writing. */
class FailingTable implements RecordTable {
  chance = 0;
  faults = 0;
  private readonly kept = new MemoryRecords();

  constructor(private readonly random: Random) {}

  async read(craftId: string): Promise<CraftRecord | undefined> {
    this.mayFail();
    return this.kept.read(craftId);
  }
  async update(craftId: string, how: (kept: CraftRecord | undefined) => CraftRecord): Promise<CraftRecord> {
    this.mayFail();
    return this.kept.update(craftId, how);
  }
  empty(): void {
    this.kept.empty();
  }
  private mayFail(): void {
    if (this.random.next() >= this.chance) return;
    this.faults++;
    throw new Error('UnknownError');
  }
}

/** How often a person measures a kind over the link; otherwise it is only followed what becomes of a proof of it. */
const measuredShare = 0.15;

interface ProvenCraftHost {
  readonly craft: Craft;
  readonly bench: SimulatedBench;
  readonly time: VirtualTime;
  readonly random: Random;
  /** Lets a test break what is guarded. */
  readonly sabotage?: Sabotage['record'] | undefined;
}

export class ProvenCraft {
  /** Proofs and sightings that stood although the truth was another one. */
  readonly falseProofs: string[] = [];
  takenBack = 0;
  /** Measurements over the link, and proofs of them that hold. */
  measured = 0;
  held = 0;
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
  /** Name of the newest proof of each kind, and how many parts a person said were replaced. */
  private readonly newest = new Map<ProofKind, string>();
  private parts = 0;
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
    this.newest.set(proof.kind, nameOf(proof));
  }

  replaced(part: Part): void {
    this.parts++;
    this.change((record) => withPartReplaced(record, part));
  }

  /** Everything that its store keeps is deleted, and the person goes on. */
  emptied(): void {
    // What the page never read went with its store, and nobody could keep it.
    if (!this.keeper.isRead) return;
    this.table.empty();
    this.note();
  }

  note(): void {
    const text = `note ${this.notes.length}`;
    this.notes.push(text);
    if (this.host.sabotage === 'forgetful') return;
    this.change(({notes = []}) => ({notes: [...notes, {at: 0, text}].slice(-500)}));
  }

  /** A person measures and sees everything, on what the last survey found. */
  async measureAll(at: Omit<Measurer, 'craft' | 'found' | 'bench'>): Promise<void> {
    const {craft} = this;
    const {found} = this.record;
    if (!found?.controller || found.escs.length < craft.arms.length) return;
    for (const kind of measuredKinds) {
      const isMeasured = this.host.random.next() < measuredShare;
      if (isMeasured) await this.measure(kind, {...at, ...{craft, found, bench: this.host.bench}});
      else this.prove(kind, found, {holds: true, text: 'drilled', counted: 4, cycles: found.power.cycles});
    }
    for (const output of craft.arms.keys()) this.see(output, found);
  }

  /** What a person measures over the link is kept as it is; where it holds, the craft must be so. */
  private async measure(kind: MeasuredKind, m: Measurer): Promise<void> {
    this.measured++;
    const told = await measure(kind, m);
    const holds = told?.holds === true || this.host.sabotage === 'credulous';
    const proof = told && this.prove(kind, m.found, {...told, holds});
    if (!proof?.holds) return;
    this.held++;
    const swapped = proof.on.find(({output, serial}) => m.bench.escs[output]?.hardware.serial !== serial);
    const denied = deniedBy(kind, m.bench, m.craft) ?? (swapped && `another ESC is on motor ${swapped.output + 1}`);
    if (denied) this.falseProofs.push(`${nameOf(proof)}: ${denied}; ${proof.text}`);
  }

  private prove(kind: MeasuredKind, found: Found, {counted, cycles, ...verdict}: Measured): NewProof | undefined {
    const {craft} = this;
    const on = found.escs.map(({output, boot: {serial}}) => ({output, serial}));
    const count = countOf(counted);
    if (count === undefined || !isSome(on)) return undefined;
    const grounds = groundsOf(kind, {craft, plan: wholePlan(craft), found, replaced: this.record.replaced});
    const proof: NewProof = {
      ...{at: this.host.time.now(), session: this.session, cycles, kind, grounds, on, count},
      ...verdict,
    };
    this.proven(proof);
    return proof;
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
    this.truths.set(
      nameOf({kind: `sighting of ${output}`, at: sighting.at}),
      seenTruth(output, bench, tellsSense(sighting)),
    );
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
      if (stands) this.hold(nameOf(s.proof), truthOf(kind, bench));
      if (s.kind === 'void')
        this.takenBack += Number(!this.told.has(`${kind} ${place}`) && !!this.told.add(`${kind} ${place}`));
    }
    for (const s of sightings) {
      const {changes, unread} = sightingNow(s, sightingQuestion(q));
      const stands = this.isRead && !changes.length && !unread.length && foundPlace > s.place;
      if (stands)
        this.hold(nameOf({kind: `sighting of ${s.output}`, at: s.at}), seenTruth(s.output, bench, tellsSense(s)));
    }
  }

  /** Every proof with what is there now for its grounds. */
  private forgiven(): CraftRecord {
    const {craft, record} = this;
    const {found, replaced, proofs} = record;
    const q = {craft, plan: wholePlan(craft), found, replaced};
    return {...record, proofs: proofs.map((proof) => ({...proof, grounds: groundsOf(proof.kind, q)}))};
  }

  private hold(name: string, is: string): void {
    const was = this.truths.get(name);
    if (was !== undefined && was !== is && !this.falseProofs.includes(name)) this.falseProofs.push(name);
  }

  /** What a person wrote, proved or said was replaced, and is not in the store, in words. */
  async lost(): Promise<string[]> {
    this.table.chance = 0;
    await this.settle();
    const kept = await this.table.read(this.host.craft.id);
    const {replaced = {}, proofs = [], notes = []} = kept ?? {};
    const isSame = canonicalJson(notes.map((n) => n.text)) === canonicalJson(this.notes);
    const newest = [...this.newest].filter(([, name]) => !proofs.some((p) => nameOf(p) === name));
    const count = Object.values(replaced).reduce((sum, n) => sum + n, 0);
    return [
      ...(isSame ? [] : ['notes']),
      ...newest.map(([, name]) => name),
      ...(count === this.parts ? [] : [`${this.parts - count} replaced parts`]),
    ];
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
