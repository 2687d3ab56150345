import {
  ChangeDetectionStrategy,
  Component,
  effect,
  inject,
  input,
  linkedSignal,
  signal,
  untracked,
} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {Textarea} from 'primeng/textarea';
import type {ControllerText} from '@core/controller/text/read-text';
import {
  pastedText,
  textFile,
  textSheet,
  withTakenLines,
  withTicked,
  type OpenedText,
  type TextNow,
  type TextPart,
} from '@core/sheets/parameters/controller-text';
import {replacedController, withReplacedController} from '@core/sheets/parameters/replaced-controller';
import {download} from '../../shared/download';
import {pickedFiles} from '../../shared/picked-files';
import {readControllerText} from '../../state/controller-text-reader';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FileInbox} from '../../state/file-inbox';
import {OtherCraftStore} from '../../state/other-craft.store';
import {FleetStore} from '../../state/fleet.store';
import {SnapshotStore} from '../../state/snapshot.store';

/** The whole configuration of the flight controller as text: by sections, against the plan, lines of another text taken over. */
@Component({
  selector: 'bx-controller-text',
  imports: [FormsModule, Select, Textarea],
  templateUrl: './controller-text.component.html',
  styleUrl: './controller-text.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ControllerTextComponent {
  private readonly fleet = inject(FleetStore);
  private readonly question = inject(CraftQuestionStore);
  private readonly snapshots = inject(SnapshotStore);
  private readonly others = inject(OtherCraftStore);
  private readonly inbox = inject(FileInbox);
  private readonly files = signal<readonly OpenedText[]>([]);
  /** Id of the text that is looked at first. */
  readonly against = input<string>();
  protected readonly chosen = linkedSignal<string | undefined, string | undefined>({
    source: this.against,
    computation: (against, before) => against ?? before?.value,
  });
  protected readonly onlyDiffering = signal(false);
  /** Paths of lines to take over from the other text. */
  protected readonly taken = signal<readonly string[]>([]);
  /** Lines that a file is saved with. */
  protected readonly part = signal<TextPart>('all');
  /** Whether the field for pasted lines is open, and what stands in it. */
  protected readonly pastes = signal(false);
  protected readonly pasted = signal('');
  protected readonly sheet = this.question.sheet((q) => textSheet(q, this.now()));

  protected readonly replaced = this.question.sheet((q) => replacedController(q, this.snapshots.listed()));

  constructor() {
    effect(() => {
      const {id} = this.fleet.current()!;
      untracked(() => void Promise.all([this.snapshots.load(id), this.others.load(id)]));
    });
    effect(() => {
      if (this.inbox.has('controller text')) untracked(() => void this.openAll(this.inbox.takeAll('controller text')));
    });
  }

  private now(): TextNow {
    return {
      ...{files: this.files(), snapshots: this.snapshots.listed(), crafts: this.others.crafts(), chosen: this.chosen()},
      ...{onlyDiffering: this.onlyDiffering(), taken: this.taken()},
    };
  }

  /** Everything that the flight controller before held, as one step that undo takes back. */
  protected planReplaced(): void {
    const q = this.question.question()!;
    this.fleet.edit((craft) => withReplacedController(craft, q, this.snapshots.listed()));
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
      this.add(file.name, await readControllerText(file));
    }
  }

  /** Reads the lines that were pasted as another text; the field stays open where some of them are wrong. */
  protected readPasted(): void {
    const text = pastedText(this.pasted());
    this.add('pasted lines', text);
    // A block is a few lines among many: they are what is to be seen.
    this.onlyDiffering.set(true);
    if (!text.faults.length) this.pasted.set('');
    this.pastes.set(text.faults.length > 0);
  }

  private add(label: string, text: ControllerText): void {
    const id = crypto.randomUUID();
    this.files.update((open) => [{id, label, text}, ...open]);
    this.choose(id);
  }

  protected save(of: 'found' | 'plan'): void {
    const {name, content} = textFile(this.question.question()!, of, this.part());
    download(name, content, 'application/toml');
  }
}
