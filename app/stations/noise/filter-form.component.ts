import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import {fixedFilters, type FilterFields} from '@core/controller/chain-of';
import {planOver, type ControllerPlan} from '@core/controller/plan';
import {lowPassKinds, lowPassName, type LowPassKind} from '@core/filters/section';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';

type Details = Required<Omit<FilterFields, 'replies'>>;

interface Choice {
  readonly label: string;
  readonly value: LowPassKind;
}

/** The planned filters, field by field; what a plan is silent about is shown as the craft has it. */
@Component({
  selector: 'bx-filter-form',
  imports: [FormsModule, NumberFieldComponent, Select, SelectButton],
  templateUrl: './filter-form.component.html',
  styleUrl: './filter-form.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FilterFormComponent {
  private readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);
  protected readonly harmonics = [1, 2, 3].map((value) => ({label: `${value}×`, value}));
  protected readonly kinds: Choice[] = lowPassKinds.map((value) => ({label: lowPassName[value], value}));
  protected readonly plan = computed(() => this.fleet.current()!.plan.controller);
  private readonly found = computed(() => this.record.found()?.controller?.config);
  protected readonly values = computed((): Details => {
    const planned = planOver(this.plan(), this.found());
    return {...fixedFilters, notchWeights: [], movingMinHz: planned.notchMinHz, ...planned};
  });
  /** Low-passes, as one form for both. */
  protected readonly lowPasses = computed(() => {
    const v = this.values();
    return [
      {
        name: 'low',
        title: 'Gyro low-pass',
        kind: v.gyroLowPass,
        full: v.gyroLowPassFullHz,
        lacks: this.lacks('gyroLowPass'),
        setKind: (gyroLowPass: LowPassKind) => this.set({gyroLowPass}),
        setFull: (gyroLowPassFullHz: number) => this.set({gyroLowPassFullHz}),
      },
      {
        name: 'd-low',
        title: 'D low-pass',
        kind: v.dLowPass,
        full: v.dLowPassFullHz,
        lacks: this.lacks('dLowPass'),
        setKind: (dLowPass: LowPassKind) => this.set({dLowPass}),
        setFull: (dLowPassFullHz: number) => this.set({dLowPassFullHz}),
      },
    ];
  });

  /** Whether the firmware of the craft was found not to have a field. */
  protected lacks(field: keyof FilterFields): boolean {
    const found = this.found();
    return found !== undefined && found[field] === undefined;
  }

  protected weight(order: number): number {
    return this.values().notchWeights[order - 1] ?? 100;
  }

  protected setWeight(order: number, percent: number): void {
    const {length} = this.harmonics;
    this.set({notchWeights: Array.from({length}, (_, i) => (i === order - 1 ? percent : this.weight(i + 1)))});
  }

  protected set(changes: Partial<ControllerPlan>): void {
    this.fleet.setController(changes);
  }

  protected setHarmonics(list: readonly number[]): void {
    this.set({notchHarmonics: [...list].sort((a, b) => a - b)});
  }
}
