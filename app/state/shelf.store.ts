/** The shelf: releases from the service, checked before anything of them is shown, and files of one's own beside them. */
import {inject} from '@angular/core';
import {patchState, signalStore, withMethods, withState} from '@ngrx/signals';
import type {Craft} from '@core/craft/craft';
import {wantedFirmware} from '@core/craft/motor-firmware';
import {findChip, type Chip} from '@core/firmware/chips';
import {isWithin} from '@core/firmware/identity';
import {readIntelHex} from '@core/firmware/formats/intel-hex';
import type {Image} from '@core/firmware/image';
import type {KeptApplication, ReadFrom} from '@core/firmware/plan/read-from';
import {hexOfBytes} from '@core/hex';
import {dayText} from '@core/words/moment';
import {
  heldImage,
  ownImage,
  plannedImage,
  releaseImage,
  type ImageSupply,
  type ImageFor,
} from '@core/firmware/plan/planned-image';
import type {ControllerRelease} from '@core/firmware/controller-releases';
import {checkDigest, openCatalogue, type Catalogue, type Release, type Board} from '@core/firmware/releases';
import {ownControllerFirmware} from '@core/controller/firmware/fit';
import {plannedControllerImage, type ControllerImage} from '@core/order/controller-work';
import {failure, ProblemError, type Problem, type Result} from '@core/problem';
import {firmwareText, type Found, type FoundEsc} from '@core/bench/found';
import type {ControllerBoard, NamedImage} from '@core/sheets/firmware/controller-firmware';
import type {ShelfNow} from '@core/sheets/firmware/firmware';
import {database, type OwnFile} from '../store/database';
import {refusalText} from '../store/refusal-text';
import type {InspectedFile} from '@core/firmware/inspect-image';
import type {ServiceFault} from '@core/sheets/keeping/shelf';
import {fetchFrom, readBytes, readJson} from './release-service';
import {inspectFile} from './image-reader';
import {FleetStore} from './fleet.store';
import {StoreNotices} from './store-notices';

interface ShelfState {
  readonly catalogue: Catalogue | undefined;
  /** Images read and checked, by digest of their file. */
  readonly images: Readonly<Record<string, Image>>;
  readonly files: readonly OwnFile[];
  readonly problem: Problem | undefined;
  readonly loading: boolean;
  /** Epoch ms of the last answer of the service that was taken over. */
  readonly loadedAt: number | undefined;
  readonly mishap: ServiceFault | undefined;
}

/** Where a file comes from, and where raw bytes of it begin. */
interface FileOrigin {
  readonly base?: number;
  readonly origin?: OwnFile['origin'];
  /** The ESC that it was read out of, to go back to it. */
  readonly from?: ReadFrom;
}

/** The same bytes may have come out of several ESCs: each is remembered. */
function readFromWith(kept: OwnFile | undefined, from: ReadFrom | undefined): Pick<OwnFile, 'readFrom'> {
  const others = kept?.readFrom?.filter(({serial}) => serial !== from?.serial) ?? [];
  const all = from ? [...others, from] : others;
  return all.length ? {readFrom: all} : {};
}

export const ShelfStore = signalStore(
  {providedIn: 'root'},
  withState<ShelfState>({
    catalogue: undefined,
    images: {},
    files: [],
    problem: undefined,
    loading: false,
    loadedAt: undefined,
    mishap: undefined,
  }),
  withMethods((store) => ({
    async _ask(path: string, wrong: readonly ServiceFault[]): Promise<Response> {
      const mishap = store.mishap();
      const as = mishap && wrong.includes(mishap) ? `?as=${mishap}` : '';
      return fetchFrom(path + as);
    },
    _tell(error: unknown) {
      if (!(error instanceof ProblemError)) throw error;
      patchState(store, ({problem}) => ({problem: problem ?? error.problem}));
    },
    /** What images can be taken from: the catalogue's releases and files of one's own, as far as they were read. */
    supply: (): ImageSupply => ({
      releases: store.catalogue()?.releases ?? [],
      files: store.files(),
      imageIn: (sha256) => store.images()[sha256],
    }),
    _controllerSupply: () => ({
      releases: store.catalogue()?.controllers?.releases ?? [],
      files: store.files(),
      imageIn: (sha256: string) => store.images()[sha256],
    }),
    /** Reply modules for a board whose bounds hold a base. */
    modulesFor: (board: string, family: string, version: string): Release[] =>
      (store.catalogue()?.releases ?? []).filter(
        (r) =>
          r.variant === 'reply-module' &&
          r.board === board &&
          r.family === family &&
          r.base &&
          isWithin(version, r.base),
      ),
    setMishap: (mishap: ServiceFault | undefined) => patchState(store, {mishap}),
  })),
  withMethods((store, notices = inject(StoreNotices)) => ({
    async _readRelease(sha256: string): Promise<Image> {
      const release = allReleases(store.catalogue()).find((r) => r.sha256 === sha256);
      if (!release) throw new ProblemError(noImage(sha256));
      const kept = await database.images.get(sha256).catch(notices.unread('A kept release'));
      const wrong: ServiceFault[] = ['down', 'image-altered', 'image-cut', 'image-wrong'];
      const file = kept?.file ?? (await readBytes(await store._ask(`/api/images/${sha256}`, wrong)));
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
      // A store that refuses keeps no copy: the next load asks the service again.
      if (!kept) await database.images.put({sha256, file}).catch(notices.refused('the release'));
      return reading.image;
    },
  })),
  withMethods((store, notices = inject(StoreNotices)) => ({
    async image(sha256: string): Promise<Image> {
      const ready = store.images()[sha256];
      if (ready) return ready;
      const own =
        store.files().find((f) => f.sha256 === sha256) ??
        (await database.files.get(sha256).catch(notices.unread('An image file of your own')));
      const read = own ? await readOwn(own) : await store._readRelease(sha256);
      patchState(store, ({images}) => ({images: {...images, [sha256]: read}}));
      return read;
    },
  })),
  withMethods((store, fleet = inject(FleetStore), notices = inject(StoreNotices)) => ({
    /** Own files and the kept catalogue. What cannot be read is told, and not shown. */
    async _readStore(): Promise<Catalogue | undefined> {
      const before = store.files();
      const kept = await database.catalogue().catch(notices.unread('The catalogue that was kept'));
      const read = (await database.files.toArray().catch(notices.unread('Image files of your own'))) ?? [];
      // What was opened while the store was read may not be in what was read.
      const opened = store.files().filter((f) => !before.includes(f) && !read.some((r) => r.sha256 === f.sha256));
      patchState(store, {files: [...read, ...opened], ...(kept && {catalogue: kept})});
      for (const {sha256} of read) await store.image(sha256).catch(store._tell);
      return kept;
    },
    /** The service's catalogue, or in true words what came instead. */
    async _askCatalogue(kept: Catalogue | undefined): Promise<Result<Catalogue>> {
      try {
        const answer = await store._ask('/api/releases', ['down', 'altered', 'older']);
        return openCatalogue(await readJson(answer), {keptIssued: kept?.issued});
      } catch (error) {
        if (error instanceof ProblemError) return failure(error.problem);
        throw error;
      }
    },
    /** Images of the craft in hand first: its station waits for them. One that fails does not hold the others. */
    async _readImages(catalogue: Catalogue): Promise<void> {
      const {escBoard, controllerBoard} = fleet.current() ?? {};
      const isOwn = ({board}: {readonly board: string}) => Number(board === escBoard || board === controllerBoard);
      for (const {sha256} of [...allReleases(catalogue)].sort((a, b) => isOwn(b) - isOwn(a)))
        await store.image(sha256).catch(store._tell);
    },
    async _readKeptImages(catalogue: Catalogue): Promise<void> {
      for (const {sha256} of allReleases(catalogue))
        if (await database.images.get(sha256).catch(notices.unread('A kept release')))
          await store.image(sha256).catch(store._tell);
    },
  })),
  withMethods((store, notices = inject(StoreNotices)) => ({
    /** Reads what is kept, then the service's catalogue; a bad one is refused and the kept one stays. */
    async load(): Promise<void> {
      if (store.loading()) return;
      patchState(store, {loading: true, problem: undefined});
      try {
        const kept = await store._readStore();
        const asked = await store._askCatalogue(kept);
        if (asked.ok) {
          patchState(store, {catalogue: asked.value, loadedAt: Date.now()});
          await database.values.put({key: 'catalogue', value: asked.value}).catch(notices.refused('the catalogue'));
          await store._readImages(asked.value);
        } else {
          // Whatever the service answers, the releases that were kept still read from the store.
          patchState(store, {problem: asked.problem});
          if (kept) await store._readKeptImages(kept);
        }
      } finally {
        patchState(store, {loading: false});
      }
    },
    /** Forgets the images kept from the service, so that they are fetched again. */
    async forgetImages(): Promise<void> {
      await database.images.clear().catch(notices.refused('what was kept of the releases'));
      const own = new Set(store.files().map((f) => f.sha256));
      patchState(store, ({images}) => ({
        images: Object.fromEntries(Object.entries(images).filter(([sha256]) => own.has(sha256))),
      }));
    },
  })),
  withMethods((store) => ({
    keepFile: async (
      {name, bytes}: {name: string; bytes: Uint8Array},
      {sha256, reading}: InspectedFile,
      {base, origin = 'file', from}: FileOrigin,
    ) => {
      // A file with faults can be looked at, but nothing of it is kept.
      if (reading.faults.length) return;
      const own: OwnFile = {
        sha256,
        name,
        addedAt: Date.now(),
        origin,
        file: bytes,
        ...(base !== undefined && {base}),
        ...readFromWith(
          store.files().find((f) => f.sha256 === sha256),
          from,
        ),
      };
      await database.files.put(own).catch((error: unknown) => {
        throw new ProblemError({
          code: 'store-failed',
          place: name,
          meaning: refusalText(error, 'this file'),
          remedy: 'Open it again when there is room.',
        });
      });
      patchState(store, ({files, images}) => ({
        files: [...files.filter((f) => f.sha256 !== sha256), own],
        images: {...images, [sha256]: reading.image},
      }));
    },
  })),
  withMethods((store, notices = inject(StoreNotices)) => ({
    addFile: async (file: {name: string; bytes: Uint8Array}, more: FileOrigin = {}) => {
      const inspected = await inspectFile(file.name, file.bytes, more.base);
      if (inspected.ok) await store.keepFile(file, inspected.value, more);
      return inspected;
    },
    async removeFile(sha256: string): Promise<void> {
      try {
        await database.files.delete(sha256);
      } catch (error) {
        // It is still kept, so it is still shown.
        return notices.refused('the file that was to be deleted')(error);
      }
      patchState(store, ({files}) => ({files: files.filter((f) => f.sha256 !== sha256)}));
    },
  })),
  withMethods((store, fleet = inject(FleetStore)) => ({
    /** Keeps as backups the applications a survey read whole and the shelf has no image of (K8). */
    async keepWhatWasRead(craft: string, {escs}: Found): Promise<void> {
      for (const esc of escs) {
        const chip = findChip(esc.boot.chip);
        if (!esc.application || !chip || heldImage(store.supply(), esc.identity, 'base')) continue;
        const name = `${craft} motor ${esc.output + 1}, ${firmwareText(esc)}.bin`;
        await store.addFile({name, bytes: esc.application}, {base: chip.application.start, origin: 'backup'});
      }
    },
    /** Keeps firmware of others that an order is about to replace; rejects where the store refuses it. */
    async keepApplication(
      craftId: string,
      {output, serial, chip, bytes, settingsPage}: KeptApplication,
    ): Promise<void> {
      const craft = fleet.crafts().find((c) => c.id === craftId);
      const at = Date.now();
      const name = `${craft?.name ?? 'craft'} motor ${output + 1}, foreign firmware of ${serial}, ${dayText(at)}.bin`;
      const from = {serial, at, page: hexOfBytes(settingsPage)};
      const {start} = findChip(chip)!.application;
      const added = await store.addFile({name, bytes}, {base: start, origin: 'backup', from});
      if (!added.ok) throw new ProblemError(added.problem);
    },
    /** Keeps the application that `read` gets out of an ESC; resolves with its name, undefined where nothing was read. */
    async backUp(esc: FoundEsc, read: (chip: Chip) => Promise<Uint8Array | undefined>): Promise<string | undefined> {
      const [craft, chip] = [fleet.current(), findChip(esc.boot.chip)];
      const bytes = craft && chip && (await read(chip));
      if (!bytes) return undefined;
      const day = new Date().toISOString().slice(0, 10);
      const name = `${craft.name} motor ${esc.output + 1}, ${firmwareText(esc)}, ${day}.bin`;
      await store.addFile({name, bytes}, {base: chip.application.start, origin: 'backup'});
      return name;
    },
  })),
  withMethods((store) => ({
    /** What an order for a craft asks its shelf. */
    imageFor:
      (craft: Pick<Craft, 'plan' | 'helicopter'>): ImageFor =>
      ({output, hardware}, part) =>
        plannedImage(store.supply(), wantedFirmware(craft, output), {board: hardware.board, part}),
    /** What the ESC boards of a craft are rated for; undefined before a catalogue was read. */
    boardOf: ({escBoard}: Pick<Craft, 'escBoard'>): Board | undefined =>
      store.catalogue()?.boards.find((b) => b.name === escBoard),
    /** The image planned for a flight controller's board. */
    controllerImage: ({plan}: Pick<Craft, 'plan'>, board: string | undefined): ControllerImage | undefined =>
      board === undefined
        ? undefined
        : plannedControllerImage(store._controllerSupply(), plan.controllerFirmware, board),
    /** Images for a flight controller's board as far as they were read: releases, then files of one's own. */
    controllerImages({board, chip}: ControllerBoard): NamedImage[] {
      const images = store.images();
      const releases = (store.catalogue()?.controllers?.releases ?? []).filter((r) => r.board === board);
      const signed = releases.flatMap((release): NamedImage[] => {
        const image = plannedControllerImage(store._controllerSupply(), release, board);
        return image ? [{image, family: release.family, version: release.version}] : [];
      });
      const own = store.files().flatMap(({sha256, name}): NamedImage[] => {
        const image = images[sha256];
        const read = image && ownControllerFirmware(image, chip);
        if (!read) return [];
        const {family, version} = read;
        return [{image: {sha256, name, image, release: undefined}, family, version}];
      });
      return [...signed, ...own];
    },
    ownPlanned: (sha256: string) => ownImage(store.supply(), sha256),
  })),
  withMethods((store) => ({
    /** What the Firmware sheet asks of the shelf. */
    nowFor(craft: Pick<Craft, 'plan' | 'helicopter'>): ShelfNow {
      // The shelf's images are read one after the other: what fits follows them.
      store.images();
      const own = store.files().flatMap(({sha256, addedAt, file}) => {
        const planned = ownImage(store.supply(), sha256);
        return planned ? [{...planned, addedAt, sizeBytes: file.length}] : [];
      });
      return {
        ...{releases: store.catalogue()?.releases, own, modulesFor: store.modulesFor, imageFor: store.imageFor(craft)},
        imageOf: (release) => releaseImage(store.supply(), release),
      };
    },
  })),
);

/** Of ESCs and of flight controllers. */
const allReleases = (catalogue: Catalogue | undefined): readonly (Release | ControllerRelease)[] => [
  ...(catalogue?.releases ?? []),
  ...(catalogue?.controllers?.releases ?? []),
];

async function readOwn(own: OwnFile): Promise<Image> {
  const inspected = await inspectFile(own.name, own.file, own.base);
  if (inspected.ok) return inspected.value.reading.image;
  throw new ProblemError(inspected.problem);
}

const noImage = (sha256: string): Problem => ({
  code: 'no-image',
  place: 'shelf',
  meaning: `No release has the digest ${sha256.slice(0, 12)}…`,
  remedy: 'Load the releases again.',
});
