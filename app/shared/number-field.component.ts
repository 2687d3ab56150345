import {ChangeDetectionStrategy, Component, input, output} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {InputNumber} from 'primeng/inputnumber';

/** A number with its label and unit, as two cells of a form's grid. */
@Component({
  selector: 'bx-number-field',
  imports: [FormsModule, InputNumber],
  template: `
    <label [attr.for]="name()">{{ label() }}</label>
    <p-inputnumber
      [inputId]="name()"
      [suffix]="unit()"
      [min]="min()"
      [max]="max()"
      [step]="step()"
      [maxFractionDigits]="digits()"
      [useGrouping]="grouping()"
      [showButtons]="buttons()"
      [disabled]="disabled()"
      [placeholder]="placeholder()"
      [ngModel]="value()"
      [ngModelOptions]="{updateOn: buttons() ? 'change' : 'blur'}"
      (ngModelChange)="take($event)"
    />
  `,
  styles: ':host { display: contents; }',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NumberFieldComponent {
  /** Ties label and field; unique on the page. */
  readonly name = input.required<string>();
  readonly label = input.required<string>();
  readonly value = input.required<number | undefined>();
  readonly min = input.required<number>();
  readonly max = input.required<number>();
  /** Written behind the number, with the space before it. */
  readonly unit = input('');
  readonly step = input(1);
  readonly digits = input<number | undefined>(undefined);
  readonly grouping = input(true);
  /** Small steps by buttons; each is taken over at once. */
  readonly buttons = input(false);
  readonly disabled = input(false);
  readonly placeholder = input<string | undefined>(undefined);
  readonly changed = output<number>();

  /** An emptied field says nothing: the value stays until another is typed. */
  protected take(typed: number | null): void {
    if (typed !== null) this.changed.emit(typed);
  }
}
