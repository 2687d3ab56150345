/** What is known of the craft in hand: found, proofs, sightings. */
import {patchState, signalStore, withMethods, withState} from '@ngrx/signals';
import type {Hardware} from '@core/firmware/fit';
import type {Found} from '@core/work/found';
import type {ProofRecord} from '@core/work/proof';
import type {NoiseProof, Sighting} from '@core/work/stations';
import {database, type CraftRecord} from '../store/database';

const blank = (craftId: string): CraftRecord => ({
  craftId,
  found: undefined,
  proofs: [],
  sightings: [],
  noise: undefined,
});

export const RecordStore = signalStore(
  {providedIn: 'root'},
  withState<CraftRecord & {readonly storeFault: string | undefined}>({...blank(''), storeFault: undefined}),
  withMethods((store) => {
    const save = (changes: Partial<CraftRecord>) => {
      patchState(store, changes);
      const record = {
        craftId: store.craftId(),
        found: store.found(),
        proofs: store.proofs(),
        sightings: store.sightings(),
        noise: store.noise(),
      };
      if (!record.craftId) return;
      database.records.put(record).then(
        () => patchState(store, {storeFault: undefined}),
        (error: unknown) =>
          patchState(store, {storeFault: `The browser's store refused what was found: ${String(error)}`}),
      );
    };
    return {
      async open(craftId: string): Promise<void> {
        if (store.craftId() === craftId) return;
        patchState(store, blank(craftId));
        const kept = await database.records.get(craftId);
        if (kept && store.craftId() === craftId) patchState(store, kept);
      },
      setFound: (found: Found) => save({found}),
      addProofs: (proofs: readonly ProofRecord[]) => save({proofs: [...store.proofs(), ...proofs].slice(-200)}),
      /** Keeps the newest sighting of each output. */
      addSighting: (sighting: Sighting) =>
        save({
          sightings: [...store.sightings().filter((s) => s.output !== sighting.output), sighting].sort(
            (a, b) => a.output - b.output,
          ),
        }),
      setNoise: (noise: NoiseProof | undefined) => save({noise}),
      /** Hardware of every ESC ever identified on this craft, by chip serial. */
      knownHardware(): ReadonlyMap<string, Hardware> {
        return new Map(
          (store.found()?.escs ?? []).flatMap((e) => (e.hardware ? [[e.boot.serial, e.hardware] as const] : [])),
        );
      },
    };
  }),
);
