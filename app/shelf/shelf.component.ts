import {ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked} from '@angular/core';
import {FormsModule} from '@angular/forms';
import type {MenuItem} from 'primeng/api';
import {InputText} from 'primeng/inputtext';
import {Menu} from 'primeng/menu';
import {Select} from 'primeng/select';
import {TableModule} from 'primeng/table';
import {releaseTitle, type Release} from '@core/firmware/releases';
import {ProblemError, type Problem} from '@core/problem';
import {ProblemComponent} from '../shared/problem.component';
import {pickedFiles} from '../shared/picked-files';
import {FileInbox} from '../state/file-inbox';
import {inspectFile} from '../state/image-reader';
import {ShelfStore, type ServiceMishap} from '../state/shelf.store';
import type {OwnFile} from '../store/database';
import type {InspectedFile} from '../workers/image-inspection';
import {InspectorComponent, type Inspected} from './inspector.component';

type Standing = Release['standing'];
const mishapNames: Readonly<Record<ServiceMishap, string>> = {
  down: 'Service is down',
  altered: 'Catalogue altered on the way',
  older: 'Catalogue goes back in time',
  'image-altered': 'Images altered on the way',
  'image-cut': 'Images cut off',
  'image-wrong': 'Wrong image for a digest',
};

/** The shelf: releases of the service, searched and kept; own files beside them; and the inspector for either. */
@Component({
  selector: 'bx-shelf',
  imports: [FormsModule, InputText, Menu, Select, TableModule, ProblemComponent, InspectorComponent],
  templateUrl: './shelf.component.html',
  styleUrl: './shelf.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShelfComponent {
  protected readonly shelf = inject(ShelfStore);
  private readonly inbox = inject(FileInbox);
  private taking: Promise<void> = Promise.resolve();

  protected readonly search = signal('');
  protected readonly board = signal<string | null>(null);
  protected readonly family = signal<string | null>(null);
  protected readonly standing = signal<Standing | null>(null);
  protected readonly feature = signal<string | null>(null);
  /** What the inspector shows. */
  protected readonly inspected = signal<Inspected | undefined>(undefined);
  /** A large file on its way in. */
  protected readonly reading = signal<{name: string; share: number; cancel: () => void} | undefined>(undefined);
  protected readonly problems = signal<readonly Problem[]>([]);
  /** Files of raw bytes that wait for their base address. */
  private readonly unbased = signal<readonly {name: string; bytes: Uint8Array}[]>([]);
  protected readonly needsBase = computed(() => this.unbased()[0]);
  protected readonly base = signal('0x1000');

  private readonly releases = computed(() => this.shelf.catalogue()?.releases ?? []);
  protected readonly boards = computed(() => options(this.releases().map((r) => r.board)));
  protected readonly families = computed(() => options(this.releases().map((r) => r.family)));
  protected readonly standings = options(['steady', 'trial', 'withdrawn']);
  protected readonly features = computed(() => options(this.releases().flatMap((r) => r.features)));

  protected readonly rows = computed(() => {
    const words = this.search().toLowerCase().split(/\s+/).filter(Boolean);
    return this.releases()
      .filter((r) => {
        const text = [r.family, releaseTitle(r), r.board, r.chip, r.variant, r.standing, r.note, ...r.features];
        const all = text.join(' ').toLowerCase();
        return (
          (!this.board() || r.board === this.board()) &&
          (!this.family() || r.family === this.family()) &&
          (!this.standing() || r.standing === this.standing()) &&
          (!this.feature() || r.features.includes(this.feature()!)) &&
          words.every((word) => all.includes(word))
        );
      })
      .sort((a, b) => b.date.localeCompare(a.date) || a.id.localeCompare(b.id))
      .map((release) => ({
        release,
        title: `${release.family} ${releaseTitle(release)}`,
        kept: this.shelf.images()[release.sha256] !== undefined,
      }));
  });
  protected readonly keptCount = computed(
    () => this.releases().filter((r) => this.shelf.images()[r.sha256] !== undefined).length,
  );
  protected readonly files = computed(() => [...this.shelf.files()].sort((a, b) => b.addedAt - a.addedAt));

  protected readonly mishapItems = computed((): MenuItem[] =>
    (Object.keys(mishapNames) as ServiceMishap[]).map((mishap) => ({
      label: (this.shelf.mishap() === mishap ? '✓ ' : '') + mishapNames[mishap],
      command: () => this.shelf.setMishap(this.shelf.mishap() === mishap ? undefined : mishap),
    })),
  );

  constructor() {
    if (!this.shelf.catalogue()) void this.shelf.load();
    effect(() => {
      if (this.inbox.has('image')) untracked(() => this.takeAll(this.inbox.takeAll('image')));
    });
  }

  protected async update(): Promise<void> {
    const mishap = this.shelf.mishap();
    // A mishap of images shows only on images that are fetched.
    if (mishap?.startsWith('image')) await this.shelf.forgetImages();
    await this.shelf.load();
  }

  protected pick(event: Event): void {
    this.takeAll(pickedFiles(event));
  }

  /** One after the other, so that what is said of the first is not gone when the second comes. */
  private takeAll(files: readonly File[]): void {
    this.problems.set([]);
    this.taking = this.taking.then(async () => {
      for (const file of files) await this.open({name: file.name, bytes: new Uint8Array(await file.arrayBuffer())});
    });
  }

  private async open(file: {name: string; bytes: Uint8Array}, base?: number): Promise<void> {
    const progress = (share: number) => this.reading.update((r) => r && {...r, share});
    const read = await inspectFile(file.name, file.bytes, base, {
      onProgress: progress,
      onStart: (cancel) => this.reading.set({name: file.name, share: 0, cancel}),
    });
    this.reading.set(undefined);
    if (!read.ok) {
      this.tell(read.problem);
      if (read.problem.code === 'base-missing') this.unbased.update((files) => [...files, file]);
      return;
    }
    try {
      await this.shelf.keepFile(file, read.value, base === undefined ? {} : {base});
    } catch (error) {
      // It is shown all the same; only keeping it failed.
      if (!(error instanceof ProblemError)) throw error;
      this.tell(error.problem);
    }
    this.show(read.value);
  }

  protected openWithBase(): void {
    const file = this.needsBase();
    const text = this.base().trim();
    if (!file) return;
    this.problems.set([]);
    if (/^(0x[0-9a-f]+|\d+)$/i.test(text)) {
      this.leaveUnbased();
      void this.open(file, Number(text));
    } else
      this.tell({
        code: 'base',
        place: 'base address',
        meaning: `"${text}" is not an address.`,
        remedy: 'Type it as 0x1000 or as a whole number.',
      });
  }

  protected leaveUnbased(): void {
    this.unbased.update((files) => files.slice(1));
  }

  protected close(problem: Problem): void {
    this.problems.update((all) => all.filter((p) => p !== problem));
  }

  private tell(problem: Problem): void {
    this.problems.update((all) => [...all, problem]);
  }

  private show(read: InspectedFile): void {
    this.inspected.set({...read, release: undefined});
  }

  protected async inspectRelease(release: Release): Promise<void> {
    const image = await this.shelf.image(release.sha256);
    this.inspected.set({
      name: `${release.family} ${releaseTitle(release)}`,
      sha256: release.sha256,
      sizeBytes: release.sizeBytes,
      reading: {format: 'intel-hex', image, faults: [], notes: []},
      release,
    });
  }

  protected async inspectOwn(own: OwnFile): Promise<void> {
    const read = await inspectFile(own.name, own.file, own.base);
    if (read.ok) this.show(read.value);
    else this.tell(read.problem);
  }

  protected async remove(own: OwnFile): Promise<void> {
    await this.shelf.removeFile(own.sha256);
    if (this.inspected()?.sha256 === own.sha256) this.inspected.set(undefined);
  }

  protected day = (at: number | string): string => new Date(at).toISOString().slice(0, 10);
  protected kib = (bytes: number): string => (bytes / 1024).toFixed(1);
}

const options = (values: readonly string[]) => [...new Set(values)].sort().map((value) => ({label: value, value}));
