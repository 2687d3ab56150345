import {ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked} from '@angular/core';
import {FormsModule} from '@angular/forms';
import type {MenuItem} from 'primeng/api';
import {InputText} from 'primeng/inputtext';
import {Menu} from 'primeng/menu';
import {Select} from 'primeng/select';
import {TableModule} from 'primeng/table';
import {
  serviceFaultNames,
  shelfSheet,
  wholeShelf,
  type ServiceFault,
  type ShelfRow,
  type ShelfSearch,
} from '@core/sheets/keeping/shelf';
import {dayText} from '@core/words/moment';
import {kibText} from '@core/words/size';
import {ProblemComponent} from '../shared/problem.component';
import {pickedFiles} from '../shared/picked-files';
import {rowsBy} from '../shared/row-track';
import {FileInbox} from '../state/file-inbox';
import {ShelfStore} from '../state/shelf.store';
import {InspectorComponent} from './inspector.component';
import {OpenedFilesStore} from './opened-files.store';

/** The shelf: releases of the service, searched and kept; own files beside them; and the inspector for either. */
@Component({
  selector: 'bx-shelf',
  imports: [FormsModule, InputText, Menu, Select, TableModule, ProblemComponent, InspectorComponent],
  providers: [OpenedFilesStore],
  templateUrl: './shelf.component.html',
  styleUrl: './shelf.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShelfComponent {
  protected readonly shelf = inject(ShelfStore);
  protected readonly opened = inject(OpenedFilesStore);
  private readonly inbox = inject(FileInbox);
  protected readonly search = signal(wholeShelf);
  protected readonly base = signal('0x1000');
  protected readonly sheet = computed(() => {
    const images = this.shelf.images();
    return shelfSheet({
      releases: this.shelf.catalogue()?.releases ?? [],
      isKept: (sha256) => images[sha256] !== undefined,
      search: this.search(),
    });
  });
  protected readonly files = computed(() => [...this.shelf.files()].sort((a, b) => b.addedAt - a.addedAt));
  protected readonly mishapItems = computed((): MenuItem[] =>
    (Object.keys(serviceFaultNames) as ServiceFault[]).map((fault) => ({
      label: (this.shelf.mishap() === fault ? '✓ ' : '') + serviceFaultNames[fault],
      command: () => this.shelf.setMishap(this.shelf.mishap() === fault ? undefined : fault),
    })),
  );
  protected readonly byRelease = rowsBy((row: ShelfRow) => row.release.id);
  protected readonly day = dayText;
  protected readonly kib = kibText;

  constructor() {
    if (!this.shelf.catalogue()) void this.shelf.load();
    effect(() => {
      if (this.inbox.has('image')) untracked(() => this.opened.takeAll(this.inbox.takeAll('image')));
    });
  }

  protected async update(): Promise<void> {
    // A mishap of images shows only on images that are fetched.
    if (this.shelf.mishap()?.startsWith('image')) await this.shelf.forgetImages();
    await this.shelf.load();
  }

  protected pick(event: Event): void {
    this.opened.takeAll(pickedFiles(event));
  }

  protected narrow(to: Partial<ShelfSearch>): void {
    this.search.update((search) => ({...search, ...to}));
  }
}
