import {ChangeDetectionStrategy, Component, input, output} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import type {Choice} from '@core/sheets/choice';

/** One of many, in a list that opens, with its label: two cells of a form's grid. */
@Component({
  selector: 'bx-select-field',
  imports: [FormsModule, Select],
  template: `
    <span [id]="name()">{{ label() }}</span>
    <p-select
      [ariaLabelledBy]="name()"
      [options]="$any(choices())"
      optionLabel="label"
      optionValue="value"
      appendTo="body"
      [placeholder]="placeholder()"
      [ngModel]="value()"
      (ngModelChange)="changed.emit($event)"
    />
  `,
  styles: ':host { display: contents; }',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SelectFieldComponent<T> {
  /** Ties label and list; unique on the page. */
  readonly name = input.required<string>();
  readonly label = input.required<string>();
  readonly choices = input.required<readonly Choice<T>[]>();
  readonly value = input.required<T | undefined>();
  /** Shown where the value is none of the choices. */
  readonly placeholder = input<string | undefined>(undefined);
  readonly changed = output<T>();
}
