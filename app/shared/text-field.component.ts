import {ChangeDetectionStrategy, Component, input, output} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {InputText} from 'primeng/inputtext';

/** A line of text with its label, as two cells of a form's grid. Taken over when it is left. */
@Component({
  selector: 'bx-text-field',
  imports: [FormsModule, InputText],
  template: `
    <label [attr.for]="name()">{{ label() }}</label>
    <input
      pInputText
      [id]="name()"
      [attr.maxlength]="longest()"
      [ngModel]="value()"
      [ngModelOptions]="{updateOn: 'blur'}"
      (ngModelChange)="changed.emit($event)"
    />
  `,
  styles: ':host { display: contents; } input { width: 100%; }',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TextFieldComponent {
  /** Ties label and field; unique on the page. */
  readonly name = input.required<string>();
  readonly label = input.required<string>();
  readonly value = input.required<string>();
  readonly longest = input.required<number>();
  readonly changed = output<string>();
}
