import {ChangeDetectionStrategy, Component, computed, inject, input, signal} from '@angular/core';
import type {Effect} from '@core/motor/effects/effect';
import {effectOf} from '@core/motor/effects/effect-of';
import {canModel} from '@core/motor/model';
import {setOnMotors} from '@core/craft/plan-values';
import type {PlannedValue} from '@core/craft/craft';
import {formatValue} from '@core/settings/definitions';
import {adoptFrom, adoptValue} from '@core/compare/adopt';
import {physicsOf} from '@core/compare/rules/rule';
import {motorList} from '@core/motor-list';
import {ChartComponent} from '../../charts/chart.component';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {WorkStore} from '../../state/work.store';
import {effectOption} from './effect-option';
import {ParameterEditorComponent} from './parameter-editor.component';
import type {ParameterRow} from './parameter-row';

/** A column of figures: a value that is planned or found, and on which motors, or one that could be chosen. */
interface Column {
  readonly value: number;
  readonly title: string;
  readonly role: 'found' | 'plan' | 'other';
}
/** Choices up to this number each have a column. */
const mostColumns = 4;

/** Below an open line: what the parameter does, in general and to this craft, and ways to plan it motor by motor. */
@Component({
  selector: 'bx-parameter-panel',
  imports: [ChartComponent, ParameterEditorComponent],
  templateUrl: './parameter-panel.component.html',
  styleUrl: './parameter-panel.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ParameterPanelComponent {
  readonly row = input.required<ParameterRow>();
  private readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);
  private readonly work = inject(WorkStore);

  protected readonly definition = computed(() => this.row().definition);
  protected readonly motors = computed(() => this.row().values.map((_, i) => i));
  /** Motors that the next value is set on. */
  protected readonly picked = signal<readonly number[]>([]);
  protected readonly pickedText = computed(() => motorList(this.picked(), this.motors().length));
  /** Values found on some motors only, each with its motors. */
  protected readonly candidates = computed(() => {
    const {values} = this.row();
    const all = this.found();
    return all.length < 2
      ? []
      : all.map((value) => {
          const motors = values.flatMap((v, i) => (v === value ? [i] : []));
          return {motor: motors[0]!, text: `${this.show(value)} of ${motorList(motors, values.length)} for all`};
        });
  });

  protected readonly effect = computed((): Effect | undefined => {
    const craft = this.fleet.current();
    const esc = this.work.plannedEscs()[0];
    const question = craft && esc && physicsOf(craft, esc);
    return question && effectOf(this.definition().key, question);
  });
  /** The stator size of the craft where it does not read: without it nothing is computed. */
  protected readonly unreadSize = computed(() => {
    const craft = this.fleet.current();
    return craft && !canModel(craft) ? craft.motor.size : undefined;
  });
  private readonly planned = computed(() => distinct(this.row().wanted));
  private readonly found = computed(() => distinct(this.row().values));
  /** The other choices, where there are few; of an image that has the value built in, only those that are builds. */
  private readonly others = computed(() => {
    const {choices = []} = this.definition();
    const open = choices.filter((c) => !this.row().unavailable || c.value > 0).map((c) => c.value);
    const shown = [...this.found(), ...this.planned()];
    return open.length <= mostColumns ? open.filter((value) => !shown.includes(value)) : [];
  });
  protected readonly columns = computed((): Column[] => {
    const {values, wanted} = this.row();
    const on = (list: readonly (number | undefined)[], value: number) =>
      motorList(
        list.flatMap((v, i) => (v === value ? [i] : [])),
        list.length,
      );
    const asPlanned = (value: number) => on(values, value) === on(wanted, value) && wanted.includes(value);
    return [
      ...this.found().flatMap((value) =>
        asPlanned(value) ? [] : [{value, title: `found, ${on(values, value)}`, role: 'found' as const}],
      ),
      ...this.planned().map((value) => {
        const what = asPlanned(value) ? 'found and planned' : 'planned';
        return {value, title: `${what}, ${on(wanted, value)}`, role: 'plan' as const};
      }),
      ...this.others().map((value) => ({value, title: 'could be chosen', role: 'other' as const})),
    ];
  });
  protected readonly figures = computed(() => {
    const effect = this.effect();
    if (!effect) return [];
    const columns = this.columns().map((c) => effect.figures(c.value));
    return (columns[0] ?? []).map(({name}, line) => ({name, texts: columns.map((figures) => figures[line]!.text)}));
  });
  protected readonly option = computed(() => {
    const effect = this.effect();
    return effect?.lines.length ? effectOption(effect, {found: this.found(), planned: this.planned()}) : undefined;
  });
  protected readonly chartLabel = computed(() => {
    const effect = this.effect();
    const values = this.columns()
      .filter((c) => c.role !== 'other')
      .map((c) => `${c.title}: ${this.show(c.value)}`);
    return effect ? `${effect.yName} over ${effect.xName}; ${values.join('; ')}` : '';
  });

  protected readonly canAdopt = computed(() => {
    const found = this.record.found();
    return found && !this.row().unavailable
      ? adoptValue(found, this.definition().key, this.motors().length) !== undefined
      : false;
  });

  protected show(value: number): string {
    return formatValue(this.definition(), value);
  }

  protected pick(motor: number): void {
    this.picked.update((all) =>
      all.includes(motor) ? all.filter((m) => m !== motor) : [...all, motor].sort((a, b) => a - b),
    );
  }

  /** Takes the value typed for the picked motors into the plan. */
  protected setOnPicked(value: PlannedValue): void {
    if (value.kind !== 'same' || !this.picked().length) return;
    const {planned, values} = this.row();
    this.plan(setOnMotors(planned, {value: value.value, motors: this.picked(), held: values}));
  }

  /** Value that the picked motors share in the plan; undefined where they do not. */
  protected readonly pickedValue = computed((): PlannedValue | undefined => {
    const values = this.picked().map((m) => this.row().wanted[m]);
    return values.length && values[0] !== undefined && values.every((v) => v === values[0])
      ? {kind: 'same', value: values[0]}
      : undefined;
  });

  protected adopt(): void {
    const found = this.record.found();
    const value = found && adoptValue(found, this.definition().key, this.motors().length);
    if (value) this.plan(value);
  }

  protected adoptFrom(motor: number): void {
    const found = this.record.found();
    const value = found && adoptFrom(found, this.definition().key, motor);
    if (value) this.plan(value);
  }

  protected calibrate(): void {
    this.plan({kind: 'calibrated'});
  }

  protected leaveOpen(): void {
    this.fleet.clearParameter(this.definition().key);
  }

  private plan(value: PlannedValue): void {
    this.fleet.setParameter(this.definition().key, value);
  }
}

const distinct = (values: readonly (number | undefined)[]): number[] => [
  ...new Set(values.filter((v) => v !== undefined)),
];
