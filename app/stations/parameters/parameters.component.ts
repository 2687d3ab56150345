import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  afterNextRender,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  signal,
} from '@angular/core';
import type {PlannedValue} from '@core/craft/craft';
import type {ParameterDefinition} from '@core/settings/definitions';
import type {Verdict} from '@core/compare/difference';
import {isDiffering, parametersSheet} from '@core/sheets/parameters/parameters';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import {ConnectComponent} from '../../shared/connect.component';
import {wideScreen} from '../../shared/screen-width';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FileInbox} from '../../state/file-inbox';
import {FleetStore} from '../../state/fleet.store';
import {PlanEdits} from '../../state/plan-edits';
import {RecordStore} from '../../state/record.store';
import {WorkStore} from '../../state/work.store';
import {ControllerTextComponent} from './controller-text.component';
import {GainsComponent} from './gains.component';
import {HeldSettingsComponent} from './held-settings.component';
import {TurnRatesComponent} from './turn-rates.component';
import {DotStripComponent} from './dot-strip.component';
import {ParameterEditorComponent} from './parameter-editor.component';
import {ParameterPanelComponent} from './parameter-panel.component';

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
    HeldSettingsComponent,
    TurnRatesComponent,
    GainsComponent,
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
  protected readonly edits = inject(PlanEdits);
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
  /** Id of a snapshot or craft whose flight controller is to be held against this one, from the address. */
  readonly text = input<string>();
  /** A way here without such an id leaves the view as it was. */
  protected readonly view = linkedSignal<string | undefined, 'escs' | 'controller'>({
    source: this.text,
    computation: (text, before) => (text ? 'controller' : (before?.value ?? 'escs')),
  });
  protected readonly onlyDiffering = signal(false);
  /** Parameter whose line is open. */
  protected readonly opened = signal<string | undefined>(undefined);
  /** Groups that are drawn: the first ones at once, the others below the fold in the moments after. */
  private readonly drawn = signal(firstGroups);
  /** Groups that are folded away; helicopter firmware does not fly here. */
  protected readonly folded = signal<readonly string[]>(['Helicopter']);

  private readonly question = inject(CraftQuestionStore).question;
  protected readonly sheet = computed(() => {
    const layout = this.work.plannedEscs().find((e) => e.hardware)?.layout;
    return parametersSheet(this.question()!, {layout, findings: this.work.findings()});
  });
  protected readonly shown = computed(() =>
    this.sheet().groups.flatMap((group, place) => {
      const rows = this.onlyDiffering() ? group.rows.filter(isDiffering) : group.rows;
      const isOpen = this.onlyDiffering() || !this.folded().includes(group.name);
      return rows.length ? [{...group, rows: isOpen && place < this.drawn() ? rows : [], isOpen}] : [];
    }),
  );

  constructor() {
    effect(() => {
      if (this.inbox.has('controller text')) this.view.set('controller');
    });
    let timer: ReturnType<typeof setTimeout> | undefined;
    const drawNext = () => {
      this.drawn.update((n) => n + 1);
      if (this.drawn() < this.sheet().groups.length) timer = setTimeout(drawNext, betweenGroupsMs);
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
