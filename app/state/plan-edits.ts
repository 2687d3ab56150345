import {inject, Injectable} from '@angular/core';
import {adoptAll, adoptFrom, adoptValue} from '@core/compare/adopt';
import {setOnMotors} from '@core/craft/plan-values';
import type {ParameterKey} from '@core/settings/definitions';
import type {ParameterRow} from '@core/sheets/parameters/parameters';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';

/** Edits of the plan that take over what was found, or that touch single motors; undo takes each back. */
@Injectable({providedIn: 'root'})
export class PlanEdits {
  private readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);

  /** Everything that was found becomes the plan. */
  adoptAll(): void {
    const found = this.record.found();
    if (found) this.fleet.edit((craft) => adoptAll(craft, found));
  }

  /** A parameter as it was found, on every motor or as one has it. */
  adopt(key: ParameterKey, motor?: number): void {
    const [found, motors] = [this.record.found(), this.fleet.current()?.arms.length ?? 0];
    if (!found) return;
    const value = motor === undefined ? adoptValue(found, key, motors) : adoptFrom(found, key, motor);
    if (value) this.fleet.setParameter(key, value);
  }

  /** A value for some motors; the others keep what they have planned, or hold. */
  setOn({definition, planned, values}: ParameterRow, value: number, motors: readonly number[]): void {
    this.fleet.setParameter(definition.key, setOnMotors(planned, {value, motors, held: values}));
  }

  /** A value for every motor. */
  setAll(key: ParameterKey, value: number): void {
    this.fleet.setParameter(key, {kind: 'same', value});
  }

  clear(key: ParameterKey): void {
    this.fleet.clearParameter(key);
  }
}
