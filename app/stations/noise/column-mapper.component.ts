import {ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import type {Mapping} from '@core/flight/mapping';
import {
  columnsSheet,
  roleChoices,
  rolesAtFirst,
  saidAtFirst,
  withRole,
  withSignTurned,
  type ColumnRole,
  type UnitField,
} from '@core/sheets/noise/log-columns';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {FlightStore, type WaitingFile} from '../../state/flights/flight.store';

/** Asks what each column of a log holds, and in which unit; what could be guessed is filled in. */
@Component({
  selector: 'bx-column-mapper',
  imports: [FormsModule, Select, NumberFieldComponent],
  templateUrl: './column-mapper.component.html',
  styleUrl: './column-mapper.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ColumnMapperComponent {
  readonly waiting = input.required<WaitingFile>();
  protected readonly flights = inject(FlightStore);
  protected readonly choices = [...roleChoices];
  protected readonly roles = linkedSignal((): readonly ColumnRole[] => rolesAtFirst(this.waiting()));
  protected readonly changes = linkedSignal((): Partial<Mapping> => saidAtFirst(this.waiting()));
  protected readonly sheet = computed(() =>
    columnsSheet({waiting: this.waiting(), roles: this.roles(), changes: this.changes()}),
  );

  protected take(column: number, role: ColumnRole): void {
    this.roles.update((roles) => withRole(roles, column, role));
  }

  protected change(changes: Partial<Mapping>): void {
    this.changes.update((all) => ({...all, ...changes}));
  }

  protected setUnit(field: UnitField['field'], unit: string): void {
    this.change({[field]: unit});
  }

  protected turn(mapping: Mapping, axis: number): void {
    this.change(withSignTurned(mapping, axis));
  }
}
