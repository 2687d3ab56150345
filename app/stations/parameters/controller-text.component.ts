import {ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {planOver, type ControllerConfig} from '@core/controller/plan';
import {carryText, type CarriedText} from '@core/controller/text/carry-text';
import {textVersions, type TextVersion} from '@core/controller/text/entries';
import {pathOf, readText, type ControllerText} from '@core/controller/text/read-text';
import {lockNote} from '@core/controller/locks';
import {planFrom, textRows, type TextRow} from '@core/controller/text/rows';
import {writeText} from '@core/controller/text/write-text';
import {wholePlan} from '@core/craft/whole-plan';
import {download} from '../../shared/download';
import {readControllerText} from '../../state/controller-text-reader';
import {pickedFiles} from '../../shared/picked-files';
import {FileInbox} from '../../state/file-inbox';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {SnapshotStore} from '../../state/snapshot.store';

interface Source {
  readonly label: string;
  readonly text: ControllerText;
}

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
  private readonly record = inject(RecordStore);
  private readonly snapshots = inject(SnapshotStore);
  private readonly inbox = inject(FileInbox);
  private readonly craft = computed(() => this.fleet.current()!);
  protected readonly controller = computed(() => this.record.found()?.controller);
  /** Version whose places the lines have: the controller's own where it is known, else the newest. */
  protected readonly version = computed((): TextVersion => {
    const own = this.controller()?.identity.version;
    return textVersions.find((v) => v === own) ?? textVersions.at(-1)!;
  });
  /** Files that were opened, the newest first; they go before what is listed. */
  private readonly files = signal<readonly (Source & {readonly id: string})[]>([]);
  protected readonly chosen = signal<string | undefined>(undefined);
  protected readonly choices = computed(() => [
    ...this.files().map(({label, id}) => ({label, value: id})),
    ...(this.controller() ? [{label: 'what was found', value: 'found'}] : []),
    ...this.snapshots
      .listed()
      .filter((s) => s.controller)
      .map((s) => ({label: `snapshot ${s.name}, ${s.at.slice(0, 16).replace('T', ' ')}`, value: s.id})),
  ]);
  protected readonly source = computed((): Source | undefined => {
    const chosen = this.chosen();
    const label = this.choices().find((c) => c.value === chosen)?.label;
    if (label === undefined) return undefined;
    const file = this.files().find((f) => f.id === chosen);
    if (file) return file;
    const config =
      chosen === 'found' ? this.controller()!.config : this.snapshots.listed().find((s) => s.id === chosen)!.controller;
    return {label, text: readText(this.written(config as ControllerConfig))};
  });
  /** What carrying the other text over to this controller's version does to it; undefined where it is of that version. */
  protected readonly carried = computed((): CarriedText | undefined => {
    const text = this.source()?.text;
    return text && text.readAs !== this.version() && text.lines.length ? carryText(text, this.version()) : undefined;
  });
  protected readonly told = computed(() => (this.carried()?.report ?? []).filter((l) => l.fate !== 'kept'));
  private readonly other = computed(() => {
    const carried = this.carried();
    if (!carried) return this.source()?.text;
    // What the other text did not say, only its newer firmware would: that is not offered as its word.
    const fresh = carried.report.filter((l) => l.fate === 'new').map((l) => l.to);
    const text = readText(carried.text);
    return {...text, lines: text.lines.filter((l) => !fresh.includes(pathOf(l)))};
  });
  private readonly planned = computed(() => planOver(wholePlan(this.craft()).controller, this.controller()?.config));
  protected readonly onlyDiffering = signal(false);
  private readonly rows = computed(() =>
    textRows({
      ...{version: this.version(), found: this.controller()?.config},
      ...{plan: this.planned(), other: this.other()},
    }),
  );
  protected readonly sections = computed(() => {
    const shown = this.rows().filter((r) => !this.onlyDiffering() || r.differs.foundPlan || r.differs.otherPlan);
    return [...new Set(shown.map((r) => r.section))].map((name) => {
      const rows = shown.filter((r) => r.section === name);
      return {name, rows, takeable: rows.filter((r) => canTake(r)).map((r) => r.path)};
    });
  });
  /** Paths of lines to take over from the other text. */
  protected readonly taken = signal<readonly string[]>([]);
  protected readonly faults = computed(() => this.source()?.text.faults ?? []);
  protected readonly canTake = canTake;

  constructor() {
    effect(() => {
      const {id} = this.craft();
      untracked(() => void this.snapshots.load(id));
    });
    effect(() => {
      if (this.inbox.has('controller text')) untracked(() => void this.openAll(this.inbox.takeAll('controller text')));
    });
  }

  /** Why the line cannot be written as things stand, and what unlocks it; empty where it can. */
  protected locked = ({field}: TextRow): string => lockNote(field, this.controller()?.locks);

  protected choose(value: string): void {
    this.chosen.set(value);
    this.taken.set([]);
  }

  protected toggle(paths: readonly string[]): void {
    const all = paths.every((p) => this.taken().includes(p));
    this.taken.update((t) => (all ? t.filter((p) => !paths.includes(p)) : [...new Set([...t, ...paths])]));
  }

  /** Chosen lines into the plan, as one step that undo takes back. */
  protected takeOver(): void {
    const lines = this.rows().flatMap((r) => (r.line && this.taken().includes(r.path) ? [r.line] : []));
    const {props, ...fields} = planFrom(lines, this.version(), this.planned());
    this.fleet.edit((c) => ({
      ...c,
      ...(props && {props}),
      plan: {...c.plan, controller: {...c.plan.controller, ...fields}},
    }));
    this.taken.set([]);
  }

  protected async open(event: Event): Promise<void> {
    const files = pickedFiles(event);
    await this.openAll(files);
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
    const config =
      of === 'plan' ? {...this.planned(), gyroHz: this.controller()?.config.gyroHz} : this.controller()!.config;
    const name = this.craft().name.toLowerCase().replace(/\W+/g, '-');
    download(`${name}-controller-${of}.toml`, this.written(config as ControllerConfig), 'application/toml');
  }

  private written(config: ControllerConfig): string {
    const identity = this.controller()?.identity;
    // A version that nobody knows is named as it is; its text is told as read by the newest.
    const {firmware = 'Plumb', version = this.version(), board = '', chip = ''} = identity ?? {};
    return writeText(config, {firmware, version, board, chip}, this.version());
  }
}

const canTake = (row: TextRow): boolean => row.line !== undefined && row.differs.otherPlan;
