import {NgTemplateOutlet} from '@angular/common';
import {ChangeDetectionStrategy, Component, inject, input} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import type {FilterName} from '@core/filters/delay-ledger';
import {
  filterChange,
  filterForm,
  harmonicsChange,
  type FilterField,
  type LowPassField,
} from '@core/sheets/noise/filter-form';
import type {DelayLine} from '@core/sheets/noise/filters';
import {NumberFieldComponent} from '../../../shared/number-field.component';
import {CraftQuestionStore} from '../../../state/craft-question.store';
import {FleetStore} from '../../../state/fleet.store';
import {filterColours} from './filter-colours';

/** The planned filters, field by field; what a plan is silent about is shown as the craft has it. */
@Component({
  selector: 'bx-filter-form',
  imports: [FormsModule, NgTemplateOutlet, NumberFieldComponent, Select, SelectButton],
  templateUrl: './filter-form.component.html',
  styleUrl: './filter-form.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FilterFormComponent {
  protected readonly fleet = inject(FleetStore);
  private readonly question = inject(CraftQuestionStore);
  protected readonly form = this.question.sheet(filterForm);
  /** What each filter costs; undefined without a flight. */
  readonly delays = input<readonly DelayLine[]>([]);
  protected readonly colours = filterColours;
  protected readonly harmonicsChange = harmonicsChange;

  protected set(field: FilterField, value: number): void {
    this.fleet.setController(filterChange(this.question.question()!, field, value));
  }

  protected delayOf(filter: FilterName): DelayLine | undefined {
    return this.delays().find((d) => d.filter === filter);
  }

  protected setKind({field}: LowPassField, kind: LowPassField['value']): void {
    this.fleet.setController({[field]: kind});
  }
}
