import {Injectable, computed, inject, signal} from '@angular/core';
import {Router} from '@angular/router';
import {fileKinds, headBytes, kindsOfFile, type FileKind} from '@core/dropped-files/kinds';
import {ProblemError, type Problem} from '@core/problem';
import {filesInside} from './archive-files';
import {FleetStore} from './fleet.store';

/** A file that is known and waits for its station to open it. */
interface WaitingFile {
  readonly file: File;
  readonly kind: FileKind;
  /** Craft that it is opened with; undefined for what is of no craft. */
  readonly craftId: string | undefined;
}

/** What has to be said before a file can be opened: which kind it is, or with which craft. */
export interface FileQuestion {
  readonly file: File;
  /** Kinds that fit; one where only the craft is open. */
  readonly kinds: readonly FileKind[];
  readonly needsCraft: boolean;
}

/** Where files of a kind are opened; those of a craft with its station. */
const stations: Readonly<Record<FileKind, string | undefined>> = {
  ...{image: undefined, backup: undefined, capture: 'signal', 'flight log': 'noise', trace: 'spin'},
  ...{snapshot: 'logbook', 'controller text': 'parameters', melody: 'spin'},
};
const outside: Readonly<Partial<Record<FileKind, string>>> = {image: '/shelf', backup: '/'};

/** The one door for files that are dropped on the page: looks into each, and brings it to where it is opened, in their order. */
@Injectable({providedIn: 'root'})
export class FileInbox {
  private readonly router = inject(Router);
  private readonly fleet = inject(FleetStore);
  private readonly queue = signal<readonly WaitingFile[]>([]);
  private readonly questions = signal<readonly FileQuestion[]>([]);
  private readonly faults = signal<readonly Problem[]>([]);
  private arriving: Promise<void> = Promise.resolve();
  private hasLed = false;

  /** What has to be said of the next file; undefined where nothing has. */
  readonly question = computed(() => this.questions()[0]);
  /** A file that nothing opens. */
  readonly problem = computed(() => this.faults()[0]);
  private readonly wanting = signal<{readonly kind: FileKind} | undefined>(undefined);
  /** The kind of file that somebody wants to see now: its station turns to the view that opens it. */
  readonly wanted = this.wanting.asReadonly();
  /** Whether anything has to be asked, said or opened. */
  readonly isBusy = computed(
    () => this.question() !== undefined || this.problem() !== undefined || this.queue().length > 0,
  );
  /** Files whose station has not been opened yet. */
  readonly waiting = this.queue.asReadonly();

  /** Takes files in, one after the other. Resolves when all of them are known or asked about. */
  arrive(files: readonly File[]): Promise<void> {
    return (this.arriving = this.arriving.then(async () => {
      // Several at once lead to where the first one goes; the others are named until their station is opened.
      this.hasLed = false;
      for (const file of files) await this.sort(file);
    }));
  }

  /** Whether a file of this kind waits; to be asked in an effect. */
  has(kind: FileKind): boolean {
    return this.queue().some((w) => w.kind === kind && this.isHere(w));
  }

  /** Takes all files of a kind out, in the order in which they came. */
  takeAll(kind: FileKind): File[] {
    const taken = this.queue().filter((w) => w.kind === kind && this.isHere(w));
    if (taken.length) this.queue.update((queue) => queue.filter((w) => !taken.includes(w)));
    return taken.map((w) => w.file);
  }

  /** The next file of a kind, for a place that opens one at a time. */
  take(kind: FileKind): File | undefined {
    const taken = this.queue().find((w) => w.kind === kind && this.isHere(w));
    if (taken) this.queue.update((queue) => queue.filter((w) => w !== taken));
    return taken?.file;
  }

  /** @param craftId the craft in hand where it is undefined. */
  answer(kind: FileKind, craftId?: string): void {
    const question = this.question();
    if (!question) return;
    this.questions.update((open) => open.slice(1));
    this.hasLed = false;
    this.put(question.file, kind, craftId);
  }

  /** Leaves the file that is asked about. */
  leave(): void {
    this.questions.update((open) => open.slice(1));
  }

  clearProblem(): void {
    this.faults.update((faults) => faults.slice(1));
  }

  /** Opens the station of a file that waits. */
  goTo(waiting: WaitingFile): void {
    this.wanting.set({kind: waiting.kind});
    void this.router.navigateByUrl(placeOf(waiting));
  }

  /** A craft is at hand where its stations are open, and where there is only one. */
  private craftAtHand(): string | undefined {
    if (this.router.url.startsWith('/craft/')) return this.fleet.current()?.id;
    const [first, ...others] = this.fleet.crafts();
    return others.length ? undefined : first?.id;
  }

  private async sort(file: File): Promise<void> {
    if (!file.size) return this.refuse(file, 'It is empty: it has 0 bytes.', 'Export or download it again.');
    const inside = await this.unpacked(file);
    if (inside) return this.sortAll(file, inside);
    let kinds: readonly FileKind[];
    try {
      kinds = kindsOfFile({name: file.name, bytes: await headOf(file)});
    } catch (error) {
      return this.refuse(
        file,
        `It cannot be read: ${(error as Error).message}`,
        'Copy it to this computer, then drop it again.',
      );
    }
    const [kind] = kinds;
    if (!kind)
      return this.refuse(
        file,
        'Nothing in it is one of the formats that Bidex opens.',
        `Drop ${fileKinds.map((k) => (/^[aeiou]/.test(k) ? `an ${k}` : `a ${k}`)).join(', ')}.`,
      );
    const needsCraft = kinds.some((k) => stations[k] !== undefined) && this.craftAtHand() === undefined;
    if (kinds.length === 1 && !needsCraft) this.put(file, kind, undefined);
    else this.questions.update((open) => [...open, {file, kinds, needsCraft}]);
  }

  /** The files of an archive; undefined for any other file. One that does not unpack is said, and nothing of it is left. */
  private async unpacked(file: File): Promise<File[] | undefined> {
    try {
      return await filesInside(file);
    } catch (error) {
      if (!(error instanceof ProblemError)) return undefined;
      this.faults.update((faults) => [...faults, error.problem]);
      return [];
    }
  }

  /** What an archive holds beside files that Bidex opens is left where it is, unless it holds nothing else. */
  private async sortAll(archive: File, files: readonly File[]): Promise<void> {
    let known = 0;
    for (const file of files) {
      const kinds = file.size ? await headOf(file).then((bytes) => kindsOfFile({name: file.name, bytes})) : [];
      // An archive in an archive is left alone.
      if (!kinds.length || kinds.includes('backup')) continue;
      known++;
      await this.sort(file);
    }
    if (files.length && !known)
      this.refuse(
        archive,
        'Nothing in this archive is one of the formats that Bidex opens.',
        'Open it with another program and look what it holds.',
      );
  }

  private put(file: File, kind: FileKind, craftId: string | undefined): void {
    const isOfCraft = stations[kind] !== undefined;
    const waiting = {file, kind, craftId: isOfCraft ? (craftId ?? this.craftAtHand()) : undefined};
    this.queue.update((queue) => [...queue, waiting]);
    if (this.hasLed) return;
    this.hasLed = true;
    this.goTo(waiting);
  }

  private refuse(file: File, meaning: string, remedy: string): void {
    this.faults.update((faults) => [...faults, {code: 'unknown-file', place: file.name, meaning, remedy}]);
  }

  /** Those of the craft in hand, and those of none. */
  private readonly isHere = ({craftId}: WaitingFile): boolean =>
    craftId === undefined || craftId === this.fleet.currentId();
}

function placeOf({kind, craftId}: Pick<WaitingFile, 'kind' | 'craftId'>): string {
  const station = stations[kind];
  return station === undefined ? outside[kind]! : `/craft/${craftId ?? ''}/${station}`;
}

/** The first bytes, unpacked where they are a gzip's (RFC 1952). */
async function headOf(file: File): Promise<Uint8Array> {
  const bytes = new Uint8Array(await file.slice(0, headBytes).arrayBuffer());
  if (bytes[0] !== 0x1f || bytes[1] !== 0x8b) return bytes;
  const reader = file.slice(0, headBytes).stream().pipeThrough(new DecompressionStream('gzip')).getReader();
  const head = new Uint8Array(headBytes);
  let used = 0;
  try {
    while (used < headBytes) {
      const {done, value} = await reader.read();
      if (done) break;
      const part = value.subarray(0, headBytes - used);
      head.set(part, used);
      used += part.length;
    }
  } catch {
    // Cut in the middle of a block: what came before it counts.
  }
  void reader.cancel().catch(() => undefined);
  return head.subarray(0, used);
}
