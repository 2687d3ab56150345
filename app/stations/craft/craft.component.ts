import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {InputNumber} from 'primeng/inputnumber';
import {InputText} from 'primeng/inputtext';
import {SelectButton} from 'primeng/selectbutton';
import {craftShape, wantedSenses, type Craft} from '@core/craft/craft';
import {torqueConstant} from '@core/motor/motor';
import {CraftDrawingComponent, type DrawnArm} from '../../shared/craft-drawing.component';
import {FleetStore} from '../../state/fleet.store';

/** Craft station: what the craft is made of, as drawing and editable basics. */
@Component({
  selector: 'bx-craft',
  imports: [FormsModule, InputNumber, InputText, SelectButton, CraftDrawingComponent],
  templateUrl: './craft.component.html',
  styleUrl: './craft.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CraftComponent {
  protected readonly fleet = inject(FleetStore);
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
      arm: craft.arms[arm]?.name ?? '?',
      sense: senses[arm],
    }));
  });
  /** N·m/A; 60 / (2π·KV). */
  protected readonly torque = computed(() => torqueConstant(this.fleet.current()!.motor.kv) * 1000);

  protected fault: string | undefined;

  /** Takes an edit into the plan, or says why not; the entry stays as typed until it is mended. */
  protected change(edit: (craft: Craft) => Craft): void {
    const checked = craftShape.safeParse(edit(this.fleet.current()!));
    const issue = checked.error?.issues[0];
    this.fault = issue && `${issue.path.join(' ')}: ${issue.message}. Nothing was taken over.`;
    if (checked.success) this.fleet.edit(() => checked.data);
  }

  protected readonly setName = (name: string) => (c: Craft) => ({...c, name});
  protected readonly setKind = (kind: string) => (c: Craft) => ({...c, kind});
  protected readonly setProps = (props: Craft['props']) => (c: Craft) => ({...c, props});
  protected readonly setWeight = (weightG: number) => (c: Craft) => ({...c, weightG});
  protected readonly setMotor = (motor: Partial<Craft['motor']>) => (c: Craft) => ({
    ...c,
    motor: {...c.motor, ...motor},
  });
  protected readonly setBattery = (battery: Partial<Craft['battery']>) => (c: Craft) => ({
    ...c,
    battery: {...c.battery, ...battery},
  });

  protected setPoles(poles: number): void {
    this.change((c) => ({
      ...c,
      motor: {...c.motor, poles},
      plan: {...c.plan, controller: {...c.plan.controller, poles}},
    }));
  }
}
