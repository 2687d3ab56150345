/** Craft: its sheet, and edits that are checked before they are taken over. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import {airframe, type AirframeName} from '@core/craft/airframes';
import {changeArms} from '@core/craft/change-arms';
import {changeProps} from '@core/craft/change-props';
import type {Arm, Craft, GuessedPart, RotationDirection} from '@core/craft/craft';
import {withConfirmed} from '@core/craft/guesses';
import {
  armFault,
  armMoved,
  checkedEdit,
  withArm,
  withBattery,
  withCounted,
  withEstimated,
  withHelicopter,
  withMotor,
  withOutput,
  withPackResistance,
  withPoles,
  withPropeller,
  withTurns,
  withWinding,
  type CraftEdit,
} from '@core/motor/craft-edits';
import {craftSheet, type WindingKey} from '@core/sheets/craft/craft';
import {FleetStore} from '../../state/fleet.store';
import {ShelfStore} from '../../state/shelf.store';
import {WorkStore} from '../../state/work.store';

/** Fields of the craft itself, without a rule between them. */
type Basics = Partial<Pick<Craft, 'name' | 'kind' | 'escBoard' | 'controllerBoard' | 'weightG'>>;

/** Of the component that provides it. */
export const CraftStore = signalStore(
  withState<{fault: string | undefined}>({fault: undefined}),
  withComputed((_, fleet = inject(FleetStore), work = inject(WorkStore), shelf = inject(ShelfStore)) => ({
    sheet: computed(() => {
      const craft = fleet.current();
      const boards = shelf.catalogue()?.boards ?? [];
      return craft && craftSheet(craft, {escs: work.plannedEscs(), findings: work.findings(), boards});
    }),
  })),
  withMethods((store, fleet = inject(FleetStore)) => ({
    /** Takes an edit into the plan, or says why not; the entry stays as typed until it is mended. */
    change(edit: CraftEdit): void {
      const checked = checkedEdit(fleet.current()!, edit);
      patchState(store, {fault: checked.ok ? undefined : checked.fault});
      if (checked.ok) fleet.edit(() => checked.craft);
    },
    /** Takes a typed position over, mm; returns the one that stands where that is none. */
    place(index: number, axis: 'xMm' | 'yMm', mm: number): number {
      const craft = fleet.current()!;
      const edit = armMoved(index, axis, mm);
      if (edit) this.change(edit);
      else patchState(store, {fault: armFault(craft, index)});
      return fleet.current()!.arms[index]![axis];
    },
  })),
  withMethods(({change}) => ({
    set: (basics: Basics): void => change((craft) => ({...craft, ...basics})),
    setProps: (props: Craft['props']): void => change((craft) => changeProps(craft, props)),
    setAirframe: (name: AirframeName, diagonalMm: number): void =>
      change((craft) => changeArms(craft, airframe(name, diagonalMm))),
    moveArm: (index: number, to: Partial<Arm>): void => change(withArm(index, to)),
    setOutput: (output: number, arm: number): void => change(withOutput(output, arm)),
    setTurns: (arm: number, turns: RotationDirection): void => change(withTurns(arm, turns)),
    setHelicopter: (helicopter: boolean): void => change(withHelicopter(helicopter)),
    setMotor: (motor: Partial<Craft['motor']>): void => change(withMotor(motor)),
    setPoles: (poles: number): void => change(withPoles(poles)),
    setCounted: (counted: boolean): void => change(withCounted(counted)),
    setWinding: (key: WindingKey, value: number): void => change(withWinding(key, value)),
    estimate: (key: WindingKey): void => change(withEstimated(key)),
    setBattery: (battery: Partial<Craft['battery']>): void => change(withBattery(battery)),
    setPackResistance: (milliohm: number | undefined): void => change(withPackResistance(milliohm)),
    confirm: (part: GuessedPart): void => change(withConfirmed(part)),
    setPropeller: (propeller: Partial<Craft['propeller']>): void => change(withPropeller(propeller)),
  })),
);
