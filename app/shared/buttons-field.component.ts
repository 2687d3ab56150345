import {ChangeDetectionStrategy, Component, input, output} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import type {Choice} from '@core/sheets/choice';

/** One of few, as buttons in a row, with its label: two cells of a form's grid. One is always chosen. */
@Component({
  selector: 'bx-buttons-field',
  imports: [FormsModule, SelectButton],
  template: `
    <span [id]="name()">{{ label() }}</span>
    <p-selectbutton
      [ariaLabelledBy]="name()"
      [options]="$any(choices())"
      optionLabel="label"
      optionValue="value"
      [allowEmpty]="false"
      [disabled]="disabled()"
      [ngModel]="value()"
      (ngModelChange)="changed.emit($event)"
    />
  `,
  styles: ':host { display: contents; }',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ButtonsFieldComponent<T> {
  /** Ties label and buttons; unique on the page. */
  readonly name = input.required<string>();
  readonly label = input.required<string>();
  readonly choices = input.required<readonly Choice<T>[]>();
  readonly value = input.required<T | undefined>();
  readonly disabled = input(false);
  readonly changed = output<T>();
}
