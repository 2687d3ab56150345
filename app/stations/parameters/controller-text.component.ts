import {ChangeDetectionStrategy, Component, effect, inject, signal, untracked} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {
  textFile,
  textSheet,
  withTakenLines,
  withTicked,
  type OpenedText,
  type TextNow,
} from '@core/sheets/parameters/controller-text';
import {download} from '../../shared/download';
import {pickedFiles} from '../../shared/picked-files';
import {readControllerText} from '../../state/controller-text-reader';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FileInbox} from '../../state/file-inbox';
import {FleetStore} from '../../state/fleet.store';
import {SnapshotStore} from '../../state/snapshot.store';

/** The whole configuration of the flight controller as text: by sections, against the plan, lines of another text taken over. */
@Component({
  selector: 'bx-controller-text',
  imports: [FormsModule, Select],
  templateUrl: './controller-text.component.html',
  styleUrl: './controller-text.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ControllerTextComponent {
  private readonly fleet = inject(FleetStore);
  private readonly question = inject(CraftQuestionStore);
  private readonly snapshots = inject(SnapshotStore);
  private readonly inbox = inject(FileInbox);
  private readonly files = signal<readonly OpenedText[]>([]);
  protected readonly chosen = signal<string | undefined>(undefined);
  protected readonly onlyDiffering = signal(false);
  /** Paths of lines to take over from the other text. */
  protected readonly taken = signal<readonly string[]>([]);
  protected readonly sheet = this.question.sheet((q) => textSheet(q, this.now()));

  constructor() {
    effect(() => {
      const {id} = this.fleet.current()!;
      untracked(() => void this.snapshots.load(id));
    });
    effect(() => {
      if (this.inbox.has('controller text')) untracked(() => void this.openAll(this.inbox.takeAll('controller text')));
    });
  }

  private now(): TextNow {
    return {
      ...{files: this.files(), snapshots: this.snapshots.listed(), chosen: this.chosen()},
      ...{onlyDiffering: this.onlyDiffering(), taken: this.taken()},
    };
  }

  protected choose(value: string): void {
    this.chosen.set(value);
    this.taken.set([]);
  }

  protected tick(paths: readonly string[]): void {
    this.taken.update((taken) => withTicked(taken, paths));
  }

  /** Chosen lines into the plan, as one step that undo takes back. */
  protected takeOver(): void {
    const [q, now] = [this.question.question()!, this.now()];
    this.fleet.edit((craft) => withTakenLines(craft, q, now));
    this.taken.set([]);
  }

  protected async open(event: Event): Promise<void> {
    await this.openAll(pickedFiles(event));
  }

  private async openAll(files: readonly File[]): Promise<void> {
    for (const file of files) {
      const text = await readControllerText(file);
      const id = crypto.randomUUID();
      this.files.update((open) => [{id, label: file.name, text}, ...open]);
      this.choose(id);
    }
  }

  protected save(of: 'found' | 'plan'): void {
    const {name, content} = textFile(this.question.question()!, of);
    download(name, content, 'application/toml');
  }
}
