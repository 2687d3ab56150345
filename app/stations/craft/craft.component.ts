import {changeProps} from '@core/craft/change-props';
import {NgTemplateOutlet} from '@angular/common';
import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {InputText} from 'primeng/inputtext';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import {fullCurrent, packRuleIds} from '@core/compare/rules/pack';
import {airframe, airframeNames, airframeOf, diagonalOf, type AirframeName} from '@core/craft/airframes';
import {changeArms, leadOutput} from '@core/craft/change-arms';
import {craftSchema, wantedSenses, type Arm, type Craft} from '@core/craft/craft';
import {
  estimatePackResistance,
  inductanceTrust,
  packTrust,
  readStatorSize,
  resistanceTrust,
} from '@core/motor/estimates';
import {withEstimates} from '@core/motor/model';
import type {DrawnArm} from '@core/sheets/spin-order';
import {torqueConstant} from '@core/motor/motor';
import {OwnPresetsComponent} from './own-presets.component';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {TextFieldComponent} from '../../shared/text-field.component';
import {CraftDrawingComponent} from '../../shared/craft-drawing.component';
import {FleetStore} from '../../state/fleet.store';
import {ShelfStore} from '../../state/shelf.store';
import {WorkStore} from '../../state/work.store';

/** A value of the winding that can follow size and KV. */
type Estimated = NonNullable<Craft['motor']['estimated']>[number];

/** Craft station: what the craft is made of, as drawing and editable basics. */
@Component({
  selector: 'bx-craft',
  imports: [
    NgTemplateOutlet,
    FormsModule,
    NumberFieldComponent,
    TextFieldComponent,
    InputText,
    Select,
    SelectButton,
    CraftDrawingComponent,
    OwnPresetsComponent,
  ],
  templateUrl: './craft.component.html',
  styleUrl: './craft.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CraftComponent {
  protected readonly fleet = inject(FleetStore);
  private readonly shelf = inject(ShelfStore);
  private readonly work = inject(WorkStore);
  protected readonly airframes = airframeNames.map((value) => ({label: value, value}));
  protected readonly airframe = computed(() => airframeOf(this.fleet.current()!.arms));
  protected readonly diagonal = computed(() => Math.round(diagonalOf(this.fleet.current()!.arms)));
  protected readonly armChoices = computed(() =>
    this.fleet.current()!.arms.map(({name}, value) => ({label: name, value})),
  );
  protected readonly boards = computed(() =>
    (this.shelf.catalogue()?.boards ?? []).map((b) => ({label: `${b.name}, ${b.chip}, ${b.kind}`, value: b.name})),
  );
  protected readonly propsChoices = [
    {label: 'props in', value: 'in'},
    {label: 'props out', value: 'out'},
  ];
  protected readonly drawn = computed((): DrawnArm[] => {
    const craft = this.fleet.current()!;
    const senses = wantedSenses(craft);
    return craft.arms.map((_, arm) => {
      const output = craft.plan.controller.arms.indexOf(arm);
      return {sense: senses[arm], label: output < 0 ? '?' : String(output + 1), state: 'open'};
    });
  });
  protected readonly outputs = computed(() => {
    const craft = this.fleet.current()!;
    const senses = wantedSenses(craft);
    return craft.plan.controller.arms.map((arm, output) => ({
      output,
      arm,
      sense: senses[arm],
    }));
  });
  protected readonly trust: Readonly<Record<string, number>> = {
    resistanceOhm: resistanceTrust,
    inductanceH: inductanceTrust,
  };
  protected readonly packTrust = packTrust;
  private readonly estimates = computed(() => this.fleet.current()!.motor.estimated ?? []);
  protected readonly canEstimate = computed(() => readStatorSize(this.fleet.current()!.motor.size) !== undefined);
  protected readonly packMilliohm = computed(() => {
    const ohm = this.fleet.current()!.battery.resistanceOhm;
    return ohm === undefined ? undefined : ohm * 1000;
  });
  protected readonly packEstimate = computed(() => estimatePackResistance(this.fleet.current()!.battery).value);
  /** N·m/A; 60 / (2π·KV). */
  protected readonly torque = computed(() => torqueConstant(this.fleet.current()!.motor.kv) * 1000);

  /** What the motors are predicted to draw, and what the labels of board, motor and pack say to that. */
  protected readonly fullCurrent = computed(() =>
    fullCurrent({craft: this.fleet.current()!, escs: this.work.plannedEscs()}),
  );
  protected readonly packFindings = computed(() => this.work.findings().filter((f) => packRuleIds.includes(f.id)));

  protected fault: string | undefined;

  /** Takes an edit into the plan, or says why not; the entry stays as typed until it is mended. */
  protected change(edit: (craft: Craft) => Craft): void {
    const checked = craftSchema.safeParse(edit(this.fleet.current()!));
    const issue = checked.error?.issues[0];
    this.fault = issue && `${issue.path.join(' ')}: ${issue.message}. Nothing was taken over.`;
    if (checked.success) this.fleet.edit(() => checked.data);
  }

  protected readonly setName = (name: string) => (c: Craft) => ({...c, name});
  protected readonly setKind = (kind: string) => (c: Craft) => ({...c, kind});
  protected readonly setProps = (props: Craft['props']) => (c: Craft) => changeProps(c, props);
  protected readonly setAirframe = (name: AirframeName, mm: number) => (c: Craft) => changeArms(c, airframe(name, mm));
  protected readonly moveArm = (index: number, to: Partial<Arm>) => (c: Craft) => ({
    ...c,
    arms: c.arms.map((arm, i) => (i === index ? {...arm, ...to} : arm)),
  });
  /** Takes a typed position over; what is no number goes back to what it was. */
  protected place(index: number, axis: 'xMm' | 'yMm', event: Event): void {
    const input = event.target as HTMLInputElement;
    const mm = input.valueAsNumber;
    if (Number.isFinite(mm) && Math.abs(mm) <= 2000) this.change(this.moveArm(index, {[axis]: Math.round(mm)}));
    else {
      this.fault = `${this.fleet.current()!.arms[index]!.name}: a position is a number of mm from −2000 to 2000. Nothing was taken over.`;
      input.value = String(this.fleet.current()!.arms[index]![axis]);
    }
  }
  protected readonly setOutput = (output: number, arm: number) => (c: Craft) => ({
    ...c,
    plan: {...c.plan, controller: {...c.plan.controller, arms: leadOutput(c.plan.controller.arms, output, arm)}},
  });
  protected readonly setBoard = (escBoard: string) => (c: Craft) => ({...c, escBoard});
  protected readonly setControllerBoard = (controllerBoard: string) => (c: Craft) => ({...c, controllerBoard});
  protected readonly setPropeller = (propeller: Partial<Craft['propeller']>) => (c: Craft) => ({
    ...c,
    propeller: {...c.propeller, ...propeller},
  });
  protected readonly setWeight = (weightG: number) => (c: Craft) => ({...c, weightG});
  /** Values of the winding that are estimated follow size and KV; what was measured was measured on a motor of its size. */
  protected readonly setMotor = (motor: Partial<Craft['motor']>) => (c: Craft) => ({
    ...c,
    motor: withEstimates({...c.motor, ...motor, ...(motor.size !== undefined && {measured: undefined})}),
  });
  /** A value that was measured; it no longer follows. */
  protected readonly measured = (key: Estimated, value: number) =>
    this.setMotor({[key]: value, estimated: this.estimates().filter((k) => k !== key)});
  protected readonly estimated = (key: Estimated) => this.setMotor({estimated: [...this.estimates(), key]});
  protected readonly setPack = (milliohm: number | undefined) =>
    this.setBattery({resistanceOhm: milliohm === undefined ? undefined : milliohm / 1000});
  protected readonly setBattery = (battery: Partial<Craft['battery']>) => (c: Craft) => ({
    ...c,
    battery: {...c.battery, ...battery},
  });

  protected isEstimated(key: Estimated): boolean {
    return this.estimates().includes(key);
  }

  /** Another count than before is a new one: whether somebody counted it is asked again. */
  protected setCounted(counted: boolean): void {
    this.change((c) => ({...c, motor: {...c.motor, counted: counted || undefined}}));
  }

  protected setPoles(poles: number): void {
    this.change((c) => ({
      ...c,
      motor: {...c.motor, poles, counted: undefined},
      plan: {...c.plan, controller: {...c.plan.controller, poles}},
    }));
  }
}
