/** What is known of the craft in hand: found, proofs, sightings, parts that were replaced. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import type {Found, FoundEsc} from '@core/bench/found';
import type {Part} from '@core/bench/replaced';
import type {KnownEscs} from '@core/bench/survey';
import type {HardwareClaim} from '@core/firmware/plan/fit';
import type {NewProof} from '@core/proof/proof';
import type {WrittenPart} from '@core/proof/standing';
import {
  blankRecord,
  withFound,
  withPartReplaced,
  withProofs,
  withSighting,
  withWritten,
  type CraftRecord,
} from '@core/route/craft-record';
import {MemoryRecords} from '@core/route/memory-records';
import {RecordKeeper, type RecordStep} from '@core/route/record-keeper';
import type {ScriptChoice} from '@core/spin/script/script-choices';
import type {Sighting} from '@core/spin/sighting/sighting';
import type {NoiseForecast} from '@core/tuning/noise-forecast';
import {CLOCK} from '../bench/page-clock';
import {database, type KeptClaim} from '../store/database';
import {watchTable, type TableWatch} from '../store/watch-table';
import {recordTable} from '../store/record-table';
import {refusalText, unreadText} from '../store/refusal-text';
import {StoreMode} from '../store/store-mode';

/** Tells what this tab wrote from what another one did. */
const thisTab = crypto.randomUUID();

/** Everything of a record but who wrote it; what an older one does not have is undefined. */
type RecordState = {readonly [K in keyof Required<Omit<CraftRecord, 'writer'>>]: CraftRecord[K]};

const stateOf = ({writer: _, ...record}: CraftRecord): RecordState => ({
  ...{firstPower: undefined, script: undefined, notes: [], writtenAt: {}},
  ...record,
});

/** Notes that are kept with a craft. */
const maxNotes = 500;

export const RecordStore = signalStore(
  {providedIn: 'root'},
  withState<
    RecordState & {
      readonly claims: readonly KeptClaim[];
      readonly storeFault: string | undefined;
      readonly unread: boolean;
    }
  >({
    ...stateOf(blankRecord('')),
    claims: [],
    storeFault: undefined,
    unread: false,
  }),
  withComputed((store) => ({
    /** The record of the craft in hand as a whole, for what judges it. */
    record: computed((): CraftRecord => ({
      ...{craftId: store.craftId(), count: store.count(), found: store.found(), foundPlace: store.foundPlace()},
      ...{proofs: store.proofs(), sightings: store.sightings(), noise: store.noise(), firstPower: store.firstPower()},
      ...{script: store.script(), notes: store.notes(), written: store.written(), writtenAt: store.writtenAt()},
      replaced: store.replaced(),
    })),
  })),
  withMethods((store, clock = inject(CLOCK)) => {
    const mode = inject(StoreMode);
    const memory = new MemoryRecords();
    let keeper: RecordKeeper | undefined;
    let watch: TableWatch | undefined;
    /** From the first read on: a store that could not be read has nothing to be followed. */
    const followOther = (own: RecordKeeper) =>
      (watch ??= watchTable(
        () => database.records.get(own.craftId),
        (now) => own.hear(now),
      ));
    const readClaims = async (craftId: string) => {
      if (mode.inMemory()) return;
      try {
        const claims = await database.claims.where({craftId}).toArray();
        if (store.craftId() === craftId) patchState(store, {claims});
      } catch (error) {
        patchState(store, {storeFault: refusalText(error, 'who named its boards')});
      }
    };
    return {
      async open(craftId: string): Promise<void> {
        if (store.craftId() === craftId) return;
        keeper?.close();
        watch?.stop();
        watch = undefined;
        patchState(store, {...stateOf(blankRecord(craftId)), claims: [], storeFault: undefined, unread: false});
        const own: RecordKeeper = (keeper = new RecordKeeper(mode.inMemory() ? memory : recordTable, craftId, thisTab, {
          clock,
          onRecord: (record) => {
            patchState(store, stateOf(record));
            if (own.isRead && !mode.inMemory()) followOther(own);
          },
          onFault: (fault) => patchState(store, {storeFault: fault && faultText(fault), unread: fault?.at === 'read'}),
        }));
        await own.open();
        if (store.craftId() === craftId) await readClaims(craftId);
      },
      /** A step of the record, kept as it is made. */
      _change(step: RecordStep): void {
        const kept = keeper?.change(step);
        if (kept) void (watch?.during(kept) ?? kept);
      },
    };
  }),
  withMethods((store) => {
    const put = (changes: Partial<Omit<CraftRecord, 'craftId' | 'writer'>>) => store._change(() => changes);
    return {
      /** Records of every craft, for the fleet; undefined, with the fault told, where they cannot be read. */
      async all(): Promise<readonly CraftRecord[] | undefined> {
        try {
          return await database.records.toArray();
        } catch (error) {
          patchState(store, {storeFault: unreadText(error, 'What was found and proven')});
          return undefined;
        }
      },
      async addClaim(claim: HardwareClaim): Promise<void> {
        const kept = {...claim, craftId: store.craftId()};
        await database.claims
          .put(kept)
          .catch((error: unknown) => patchState(store, {storeFault: refusalText(error, 'the claim')}));
        patchState(store, ({claims}) => ({claims: [...claims.filter((c) => c.serial !== claim.serial), kept]}));
        // What was found takes the claim up at once: the ESC itself has not changed.
        store._change(({found}) =>
          found
            ? {
                found: {
                  ...found,
                  escs: found.escs.map((e) => (e.boot.serial === claim.serial ? withClaim(e, claim) : e)),
                },
              }
            : {},
        );
      },
      setFound: (found: Found) => store._change((record) => withFound(record, found)),
      addProofs: (proofs: readonly NewProof[]) => store._change((record) => withProofs(record, proofs)),
      /** Notes that an order begins to write: what was proven of it before is to be measured again. */
      noteWritten: (part: WrittenPart, at: number) => store._change((record) => withWritten(record, part, at)),
      addSighting: (sighting: Omit<Sighting, 'place'>) => store._change((record) => withSighting(record, sighting)),
      /** A person says that a part is another one now. */
      notePartReplaced: (part: Part) => store._change((record) => withPartReplaced(record, part)),
      chooseScript: (script: ScriptChoice) => put({script}),
      noteFirstPower: (firstPower: NonNullable<CraftRecord['firstPower']>) => put({firstPower}),
      /** Something a person decided, with its reason. */
      addNote(text: string): void {
        const at = Date.now();
        store._change(({notes = []}) => ({notes: [...notes, {at, text}].slice(-maxNotes)}));
      },
      setNoise: (noise: NoiseForecast | undefined) => put({noise}),
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

const faultText = ({at, error}: {readonly at: 'read' | 'write'; readonly error: unknown}): string =>
  at === 'read'
    ? unreadText(error, 'What was found and proven of this craft')
    : refusalText(error, 'what was found and proven');

const withClaim = (esc: FoundEsc, claim: HardwareClaim): FoundEsc => ({
  ...esc,
  hardware: {board: claim.board, chip: claim.chip, deadTimeNs: claim.deadTimeNs},
  claim,
});
