import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  afterNextRender,
  computed,
  effect,
  inject,
  signal,
} from '@angular/core';
import type {PlannedValue} from '@core/craft/craft';
import type {ParameterDefinition} from '@core/settings/definitions';
import {adoptAll} from '@core/compare/adopt';
import type {Verdict} from '@core/compare/difference';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import {ConnectComponent} from '../../shared/connect.component';
import {wideScreen} from '../../shared/screen-width';
import {FileInbox} from '../../state/file-inbox';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {WorkStore} from '../../state/work.store';
import {ControllerTextComponent} from './controller-text.component';
import {DotStripComponent} from './dot-strip.component';
import {ParameterEditorComponent} from './parameter-editor.component';
import {ParameterPanelComponent} from './parameter-panel.component';
import {groupRows, isDiffering} from './parameter-row';

const verdictTags: Record<Verdict['kind'], string> = {
  'as planned': 'quiet',
  differs: 'tag diff',
  'moves together': 'tag plan',
  'expected spread': 'tag ok',
  'not planned': 'quiet',
  unknown: 'quiet',
};

/** Groups that a first look sees. */
const firstGroups = 1;
/** Pause for the browser to paint and to listen, ms. */
const betweenGroupsMs = 16;

/** Parameters station: each parameter's plan against the values found, motor by motor. */
@Component({
  selector: 'bx-parameters',
  imports: [
    FormsModule,
    SelectButton,
    ConnectComponent,
    ControllerTextComponent,
    DotStripComponent,
    ParameterEditorComponent,
    ParameterPanelComponent,
  ],
  templateUrl: './parameters.component.html',
  styleUrl: './parameters.component.css',
  host: {
    '(keydown.arrowdown)': 'walk($event, 1)',
    '(keydown.arrowup)': 'walk($event, -1)',
    '[style.--strip]': 'strip() + "px"',
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ParametersComponent {
  protected readonly fleet = inject(FleetStore);
  protected readonly record = inject(RecordStore);
  private readonly work = inject(WorkStore);
  protected readonly tags = verdictTags;
  private readonly wide = wideScreen();
  /** Width of the strips, px. */
  protected readonly strip = computed(() => (this.wide() ? 460 : 262));
  protected readonly views = [
    {label: 'ESCs', value: 'escs'},
    {label: 'Flight controller', value: 'controller'},
  ];
  private readonly inbox = inject(FileInbox);
  protected readonly view = signal<'escs' | 'controller'>('escs');
  protected readonly onlyDiffering = signal(false);
  /** Parameter whose line is open. */
  protected readonly opened = signal<string | undefined>(undefined);
  /** Groups that are drawn: the first ones at once, the others below the fold in the moments after. */
  private readonly drawn = signal(firstGroups);
  /** Groups that are folded away; helicopter firmware does not fly here. */
  protected readonly folded = signal<readonly string[]>(['Helicopter']);

  /** Settings layout of the planned firmware, or of what was found while its image is not at hand. */
  private readonly layout = computed(() => this.work.plannedEscs().find((e) => e.hardware)?.layout);

  private readonly groups = computed(() =>
    groupRows({
      craft: this.fleet.current()!,
      found: this.record.found(),
      layout: this.layout(),
      findings: this.work.findings(),
    }),
  );
  protected readonly shown = computed(() =>
    this.groups().flatMap((group, place) => {
      const rows = this.onlyDiffering() ? group.rows.filter(isDiffering) : group.rows;
      const isOpen = this.onlyDiffering() || !this.folded().includes(group.name);
      return rows.length ? [{...group, rows: isOpen && place < this.drawn() ? rows : [], isOpen}] : [];
    }),
  );
  protected readonly differing = computed(() => this.groups().reduce((sum, g) => sum + g.differing, 0));
  protected readonly motors = computed(() => this.fleet.current()!.arms.length);
  /** Nothing planned yet, but something found to begin with. */
  protected readonly canBegin = computed(
    () => !!this.record.found()?.escs.length && !Object.keys(this.fleet.current()!.plan.parameters).length,
  );

  constructor() {
    effect(() => {
      if (this.inbox.has('controller text')) this.view.set('controller');
    });
    let timer: ReturnType<typeof setTimeout> | undefined;
    const drawNext = () => {
      this.drawn.update((n) => n + 1);
      if (this.drawn() < this.groups().length) timer = setTimeout(drawNext, betweenGroupsMs);
    };
    afterNextRender(() => (timer = setTimeout(drawNext, betweenGroupsMs)));
    inject(DestroyRef).onDestroy(() => clearTimeout(timer));
  }

  protected set(definition: ParameterDefinition, value: PlannedValue): void {
    this.fleet.setParameter(definition.key, value);
  }

  protected open(key: string): void {
    this.opened.update((before) => (before === key ? undefined : key));
  }

  protected fold(group: string): void {
    this.folded.update((all) => (all.includes(group) ? all.filter((g) => g !== group) : [...all, group]));
  }

  /** Takes everything that was found over as the plan; undo takes it back. */
  protected adoptAll(): void {
    const [craft, found] = [this.fleet.current(), this.record.found()];
    if (craft && found) this.fleet.edit((c) => adoptAll(c, found));
  }

  /** Up and down go from line to line, to the groups' heads and past folded ones. */
  protected walk(event: Event, by: 1 | -1): void {
    const heads = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('.name, .group')];
    const at = heads.indexOf(event.target as HTMLElement);
    const next = heads[at + by];
    if (at < 0 || !next) return;
    event.preventDefault();
    next.focus();
  }
}
