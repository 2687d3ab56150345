import {ChangeDetectionStrategy, Component, computed, input, linkedSignal, output} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {InputNumber} from 'primeng/inputnumber';
import {InputText} from 'primeng/inputtext';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import type {SettingScalar, SimpleKind} from '@core/link/setting-shapes';
import {scalarEditor, scalarRefusal} from '@core/sheets/parameters/setting-editor';

/** One field of a setting, by its kind. What it does not take stays as typed, with the reason, and is not told on. */
@Component({
  selector: 'bx-setting-field',
  imports: [FormsModule, InputNumber, InputText, Select, SelectButton],
  template: `
    @let editor = sheet();
    @switch (editor.as) {
      @case ('choices') {
        @if (editor.isFew) {
          <p-selectbutton
            [ariaLabel]="name()"
            [options]="editor.options"
            optionLabel="label"
            optionValue="value"
            [allowEmpty]="false"
            [ngModel]="value()"
            (ngModelChange)="changed.emit($event)"
          />
        } @else {
          <p-select
            [ariaLabel]="name()"
            [options]="editor.options"
            optionLabel="label"
            optionValue="value"
            appendTo="body"
            [ngModel]="value()"
            (ngModelChange)="changed.emit($event)"
          />
        }
      }
      @case ('number') {
        <p-inputnumber
          [ariaLabel]="name()"
          [suffix]="editor.suffix"
          [useGrouping]="false"
          [step]="editor.step"
          [maxFractionDigits]="editor.digits"
          [ngModel]="typed()"
          (onInput)="type($event.value)"
          (onBlur)="settle()"
          [invalid]="!!fault()"
        />
      }
      @case ('text') {
        <input
          pInputText
          [attr.aria-label]="name()"
          [maxlength]="editor.longest"
          [ngModel]="typed()"
          (ngModelChange)="typed.set($event)"
          (blur)="settle()"
        />
      }
    }
    @if (fault(); as text) {
      <small role="alert">{{ text }}</small>
    }
  `,
  styles: `
    small {
      color: var(--copper);
      font-size: var(--fs-note);
      display: block;
      padding: var(--s1) 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SettingFieldComponent {
  readonly name = input.required<string>();
  readonly kind = input.required<SimpleKind>();
  readonly value = input.required<SettingScalar>();
  readonly changed = output<SettingScalar>();

  protected readonly sheet = computed(() => scalarEditor(this.kind()));
  protected readonly typed = linkedSignal<SettingScalar>(() => this.value());
  protected readonly fault = computed(() =>
    this.typed() === this.value() ? undefined : scalarRefusal(this.kind(), this.typed()),
  );

  protected type(value: number | string | null): void {
    this.typed.set(value === null || value === '' ? NaN : Number(value));
  }

  /** Tells a good value on when the field is left. */
  protected settle(): void {
    if (this.typed() !== this.value() && !this.fault()) this.changed.emit(this.typed());
  }
}
