/** Releases from the service, checked before anything of them is shown. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import {readIntelHex} from '@core/firmware/intel-hex';
import type {Image} from '@core/firmware/image';
import {checkDigest, openCatalogue, type Catalogue, type Release} from '@core/firmware/releases';
import {ProblemError, type Problem} from '@core/problem';
import {database} from '../store/database';
import {FleetStore} from './fleet.store';

interface ShelfState {
  readonly catalogue: Catalogue | undefined;
  /** Images read and checked, by digest of their file. */
  readonly images: Readonly<Record<string, Image>>;
  readonly problem: Problem | undefined;
  readonly loading: boolean;
}

export const ShelfStore = signalStore(
  {providedIn: 'root'},
  withState<ShelfState>({catalogue: undefined, images: {}, problem: undefined, loading: false}),
  withComputed((store, fleet = inject(FleetStore)) => ({
    /** The release the plan names, for the craft's board. */
    planned: computed((): Release | undefined => {
      const craft = fleet.current();
      const {family, version} = craft?.plan.firmware ?? {};
      return store
        .catalogue()
        ?.releases.find(
          (r) =>
            r.family === family && r.version === version && r.board === craft?.escBoard && r.variant === 'multirotor',
        );
    }),
  })),
  withMethods((store) => {
    const image = async (sha256: string): Promise<Image> => {
      const ready = store.images()[sha256];
      if (ready) return ready;
      const release = store.catalogue()?.releases.find((r) => r.sha256 === sha256);
      if (!release) throw new ProblemError(noImage(sha256));
      const kept = await database.images.get(sha256);
      const file = kept?.file ?? new Uint8Array(await (await ask(`/api/images/${sha256}`)).arrayBuffer());
      const checked = checkDigest(release, file);
      if (!checked.ok) throw new ProblemError(checked.problem);
      const reading = readIntelHex(new TextDecoder('latin1').decode(file));
      const fault = reading.faults[0];
      if (fault)
        throw new ProblemError({
          code: fault.kind,
          place: `${release.id}, line ${fault.line}`,
          meaning: fault.text,
          remedy: 'Do not use this release.',
        });
      if (!kept) await database.images.put({sha256, file});
      patchState(store, ({images}) => ({images: {...images, [sha256]: reading.image}}));
      return reading.image;
    };
    return {
      image,
      /** Reads the kept catalogue, then the service's; a bad one is refused and the kept one stays. */
      async load(): Promise<void> {
        if (store.loading()) return;
        patchState(store, {loading: true, problem: undefined});
        try {
          const kept = await database.catalogue();
          if (kept) patchState(store, {catalogue: kept});
          const opened = openCatalogue(await (await ask('/api/releases')).json());
          if (!opened.ok) throw new ProblemError(opened.problem);
          patchState(store, {catalogue: opened.value});
          await database.values.put({key: 'catalogue', value: opened.value});
          for (const {sha256} of opened.value.releases) await image(sha256);
        } catch (error) {
          if (!(error instanceof ProblemError)) throw error;
          patchState(store, {problem: error.problem});
        } finally {
          patchState(store, {loading: false});
        }
      },
    };
  }),
);

async function ask(path: string): Promise<Response> {
  let response: Response | undefined;
  try {
    response = await fetch(path);
  } catch {
    // fetch rejects for every kind of network failure alike; the answer is the same: the service is not there.
    response = undefined;
  }
  if (response?.ok) return response;
  throw new ProblemError({
    code: 'service-down',
    place: 'release service',
    meaning: response ? `It answered with status ${response.status}.` : 'It cannot be reached.',
    remedy: 'What was kept before can still be used. Try again later.',
  });
}

const noImage = (sha256: string): Problem => ({
  code: 'no-image',
  place: 'shelf',
  meaning: `No release has the digest ${sha256.slice(0, 12)}…`,
  remedy: 'Load the releases again.',
});
