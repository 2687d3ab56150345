/** What is known of the craft in hand: found, proofs, sightings. */
import {patchState, signalStore, withMethods, withState} from '@ngrx/signals';
import type {HardwareClaim} from '@core/firmware/fit';
import type {Found, FoundEsc} from '@core/bench/found';
import type {ProofRecord} from '@core/proof/proof';
import type {Written} from '@core/proof/standing';
import type {KnownEscs} from '@core/bench/survey';
import type {NoiseForecast} from '@core/tuning/noise-forecast';
import type {ScriptChoice} from '@core/spin/script-choices';
import type {Sighting} from '@core/spin/sighting';
import {database, type CraftRecord, type KeptClaim} from '../store/database';
import {follow, type Follower} from '../store/follow';
import {refusalText} from '../store/refusal-text';

/** Tells what this tab wrote from what another one did. */
const thisTab = crypto.randomUUID();

/** Everything of a record but who wrote it; what an older one does not have is undefined. */
type Kept = Omit<CraftRecord, 'writer'>;
type RecordState = {readonly [K in keyof Required<Kept>]: Kept[K]};

const blank = (craftId: string): RecordState => ({
  craftId,
  found: undefined,
  proofs: [],
  sightings: [],
  noise: undefined,
  firstPower: undefined,
  script: undefined,
  notes: [],
  written: {},
});

export const RecordStore = signalStore(
  {providedIn: 'root'},
  withState<RecordState & {readonly claims: readonly KeptClaim[]; readonly storeFault: string | undefined}>({
    ...blank(''),
    claims: [],
    storeFault: undefined,
  }),
  withMethods((store) => {
    let follower: Follower | undefined;
    const save = (changes: Partial<CraftRecord>) => {
      patchState(store, changes);
      const record = {
        craftId: store.craftId(),
        found: store.found(),
        proofs: store.proofs(),
        sightings: store.sightings(),
        noise: store.noise(),
        firstPower: store.firstPower(),
        script: store.script(),
        notes: store.notes(),
        written: store.written(),
        writer: thisTab,
      };
      if (!record.craftId) return;
      database.records.put(record).then(
        () => patchState(store, {storeFault: undefined}),
        (error: unknown) => patchState(store, {storeFault: refusalText(error, 'what was found')}),
      );
    };
    return {
      async open(craftId: string): Promise<void> {
        if (store.craftId() === craftId) return;
        patchState(store, {...blank(craftId), claims: []});
        const read = await Promise.all([
          database.records.get(craftId),
          database.claims.where({craftId}).toArray(),
        ]).catch((error: unknown) => {
          patchState(store, {storeFault: refusalText(error, 'what is found')});
          return undefined;
        });
        if (!read || store.craftId() !== craftId) return;
        const [kept, claims] = read;
        patchState(store, {...(kept && withoutWriter(kept)), claims});
        follower?.stop();
        follower = follow(
          () => database.records.get(craftId),
          (now) => {
            if (now && now.writer !== thisTab && store.craftId() === craftId) patchState(store, withoutWriter(now));
          },
        );
      },
      /** Finds and proofs of every craft, for the fleet. */
      async all(): Promise<readonly CraftRecord[]> {
        // A store that refuses is told by the fleet itself.
        return database.records.toArray().catch(() => []);
      },
      async addClaim(claim: HardwareClaim): Promise<void> {
        const kept = {...claim, craftId: store.craftId()};
        await database.claims
          .put(kept)
          .catch((error: unknown) => patchState(store, {storeFault: refusalText(error, 'the claim')}));
        patchState(store, ({claims}) => ({claims: [...claims.filter((c) => c.serial !== claim.serial), kept]}));
        // What was found takes the claim up at once: the ESC itself has not changed.
        const found = store.found();
        if (found)
          save({
            found: {...found, escs: found.escs.map((e) => (e.boot.serial === claim.serial ? withClaim(e, claim) : e))},
          });
      },
      setFound: (found: Found) => save({found}),
      addProofs: (proofs: readonly ProofRecord[]) => save({proofs: [...store.proofs(), ...proofs].slice(-200)}),
      /** Notes that an order begins to write: what was proven of it before is void. */
      noteWritten: (what: keyof Written, at: number) => save({written: {...store.written(), [what]: at}}),
      /** Keeps the newest sighting of each output. */
      addSighting: (sighting: Sighting) =>
        save({
          sightings: [...store.sightings().filter((s) => s.output !== sighting.output), sighting].sort(
            (a, b) => a.output - b.output,
          ),
        }),
      chooseScript: (script: ScriptChoice) => save({script}),
      noteFirstPower: (firstPower: NonNullable<CraftRecord['firstPower']>) => save({firstPower}),
      /** Something a person decided, with its reason. */
      addNote: (text: string) => save({notes: [...(store.notes() ?? []), {at: Date.now(), text}].slice(-500)}),
      setNoise: (noise: NoiseForecast | undefined) => save({noise}),
      /** Hardware of every ESC identified on this craft, and claims about those that were not, by chip serial. */
      knownEscs: (): KnownEscs => ({
        hardware: new Map(
          (store.found()?.escs ?? []).flatMap((e) =>
            e.hardware && !e.claim ? [[e.boot.serial, e.hardware] as const] : [],
          ),
        ),
        claims: new Map(store.claims().map((c) => [c.serial, c])),
      }),
    };
  }),
);

/** A record without the mark of the tab that wrote it, which is no state. */
const withoutWriter = ({writer: _, ...record}: CraftRecord): Omit<CraftRecord, 'writer'> => record;

const withClaim = (esc: FoundEsc, claim: HardwareClaim): FoundEsc => ({
  ...esc,
  hardware: {board: claim.board, chip: claim.chip, deadTimeNs: claim.deadTimeNs},
  claim,
});
