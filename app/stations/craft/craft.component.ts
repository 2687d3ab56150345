import {NgTemplateOutlet} from '@angular/common';
import {ChangeDetectionStrategy, Component, inject} from '@angular/core';
import {ButtonsFieldComponent} from '../../shared/buttons-field.component';
import {SelectFieldComponent} from '../../shared/select-field.component';
import type {Craft} from '@core/craft/craft';
import type {Choice} from '@core/sheets/choice';
import {FormsModule} from '@angular/forms';
import {InputText} from 'primeng/inputtext';
import {Select} from 'primeng/select';
import {CraftDrawingComponent} from '../../shared/craft-drawing.component';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {TextFieldComponent} from '../../shared/text-field.component';
import {FleetStore} from '../../state/fleet.store';
import {SymptomsComponent} from './symptoms.component';
import {CraftStore} from './craft.store';
import {LooseEscComponent} from './loose-esc.component';
import {OwnPresetsComponent} from './own-presets.component';

/** Craft station: what the craft is made of, as drawing and editable basics. */
@Component({
  selector: 'bx-craft',
  imports: [
    ButtonsFieldComponent,
    SelectFieldComponent,
    NgTemplateOutlet,
    FormsModule,
    NumberFieldComponent,
    TextFieldComponent,
    InputText,
    LooseEscComponent,
    Select,
    CraftDrawingComponent,
    OwnPresetsComponent,
    SymptomsComponent,
  ],
  providers: [CraftStore],
  templateUrl: './craft.component.html',
  styleUrl: './craft.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CraftComponent {
  protected readonly fleet = inject(FleetStore);
  protected readonly edit = inject(CraftStore);
  protected readonly axes = [
    {key: 'xMm', name: 'to the right'},
    {key: 'yMm', name: 'to the front'},
  ] as const;
  protected readonly propsChoices: Choice<Craft['props']>[] = [
    {label: 'props in', value: 'in'},
    {label: 'props out', value: 'out'},
  ];

  /** Takes a typed position over; what is no number goes back to what it was. */
  protected place(index: number, axis: 'xMm' | 'yMm', event: Event): void {
    const input = event.target as HTMLInputElement;
    input.value = String(this.edit.place(index, axis, input.valueAsNumber));
  }
}
