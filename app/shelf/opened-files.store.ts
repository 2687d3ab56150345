/** Image files that were opened or dropped: read one after the other, kept, and the one that the inspector shows. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import type {InspectedFile} from '@core/firmware/inspect-image';
import type {Release} from '@core/firmware/releases';
import {ProblemError, type Problem} from '@core/problem';
import type {Inspected} from '@core/sheets/keeping/inspector';
import {readAddress, releaseText} from '@core/sheets/keeping/shelf';
import {imagesIn} from '../state/archive-files';
import {inspectFile} from '../state/image-reader';
import {ShelfStore} from '../state/shelf.store';
import type {OwnFile} from '../store/database';

interface NamedBytes {
  readonly name: string;
  readonly bytes: Uint8Array;
}

interface OpenedFilesState {
  readonly inspected: Inspected | undefined;
  /** A large file on its way in. */
  readonly reading: {readonly name: string; readonly share: number; readonly cancel: () => void} | undefined;
  readonly problems: readonly Problem[];
  /** Files of raw bytes that wait for their base address. */
  readonly unbased: readonly NamedBytes[];
}

export const OpenedFilesStore = signalStore(
  withState<OpenedFilesState>({inspected: undefined, reading: undefined, problems: [], unbased: []}),
  withComputed(({unbased}) => ({needsBase: computed(() => unbased()[0])})),
  withMethods((store) => ({
    tell: (problem: Problem) => patchState(store, ({problems}) => ({problems: [...problems, problem]})),
    close: (problem: Problem) => patchState(store, ({problems}) => ({problems: problems.filter((p) => p !== problem)})),
    show: (read: InspectedFile) => patchState(store, {inspected: {...read, release: undefined}}),
    leaveUnbased: () => patchState(store, ({unbased}) => ({unbased: unbased.slice(1)})),
  })),
  withMethods((store, shelf = inject(ShelfStore)) => {
    /** It is shown all the same; only keeping it failed. */
    const keep = async (file: NamedBytes, read: InspectedFile, base: number | undefined) => {
      try {
        await shelf.keepFile(file, read, base === undefined ? {} : {base});
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error;
        store.tell(error.problem);
      }
    };
    return {
      async open(file: NamedBytes, base?: number): Promise<void> {
        const read = await inspectFile(file.name, file.bytes, base, {
          onProgress: (share) => patchState(store, ({reading}) => ({reading: reading && {...reading, share}})),
          onStart: (cancel) => patchState(store, {reading: {name: file.name, share: 0, cancel}}),
        });
        patchState(store, {reading: undefined});
        if (read.ok) {
          await keep(file, read.value, base);
          return store.show(read.value);
        }
        store.tell(read.problem);
        if (read.problem.code === 'base-missing') patchState(store, ({unbased}) => ({unbased: [...unbased, file]}));
      },
    };
  }),
  withMethods((store, shelf = inject(ShelfStore)) => {
    let taking: Promise<void> = Promise.resolve();
    return {
      /** One after the other, so that what is said of the first is not gone when the second comes. */
      takeAll(files: readonly File[]): void {
        patchState(store, {problems: []});
        taking = taking.then(async () => {
          for (const file of files)
            try {
              for (const own of await imagesIn(file))
                await store.open({name: own.name, bytes: new Uint8Array(await own.arrayBuffer())});
            } catch (error) {
              if (!(error instanceof ProblemError)) throw error;
              store.tell(error.problem);
            }
        });
      },
      /** The file that waits for it, with an address as a person typed it. */
      openWithBase(typed: string): void {
        const [file, address] = [store.needsBase(), readAddress(typed)];
        if (!file) return;
        patchState(store, {problems: []});
        if (!address.ok) return store.tell(address.problem);
        store.leaveUnbased();
        void store.open(file, address.value);
      },
      async inspectRelease(release: Release): Promise<void> {
        const {sha256, sizeBytes} = release;
        const image = await shelf.image(sha256);
        const reading = {format: 'intel-hex', image, faults: [], notes: []} as const;
        patchState(store, {inspected: {name: releaseText(release), sha256, sizeBytes, reading, release}});
      },
      async inspectOwn({name, file, base}: OwnFile): Promise<void> {
        const read = await inspectFile(name, file, base);
        if (read.ok) store.show(read.value);
        else store.tell(read.problem);
      },
      async remove({sha256}: OwnFile): Promise<void> {
        await shelf.removeFile(sha256);
        if (store.inspected()?.sha256 === sha256) patchState(store, {inspected: undefined});
      },
    };
  }),
);
