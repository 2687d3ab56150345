import {ChangeDetectionStrategy, Component, computed, input, linkedSignal, output} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {InputNumber} from 'primeng/inputnumber';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import type {PlannedValue} from '@core/craft/craft';
import {refusalOf, type ParameterDefinition} from '@core/settings/definitions';

/** Edits the planned value of one parameter: for all motors, or motor by motor. */
@Component({
  selector: 'bx-parameter-editor',
  imports: [FormsModule, InputNumber, Select, SelectButton],
  template: `
    @if (planned()?.kind === 'calibrated') {
      <div class="calibrated"><span class="mono">calibrated</span><em>per ESC, kept</em></div>
    } @else if (numbers(); as text) {
      <div class="calibrated">
        <span class="mono">{{ text }}</span><em>per motor</em>
      </div>
    } @else if (perMotor(); as values) {
      <div class="split">
        @for (value of values; track $index; let motor = $index) {
          <button
            type="button"
            class="cell"
            [class.on]="value !== definition().choices![0]!.value"
            (click)="flip(motor)"
            [attr.aria-label]="definition().name + ', motor ' + (motor + 1) + ': ' + label(value)"
          >
            <em>{{ motor + 1 }}</em>{{ label(value)[0]!.toUpperCase() }}
          </button>
        }
      </div>
    } @else if (choices(); as options) {
      @if (options.length <= 4) {
        <p-selectbutton
          [ariaLabel]="name()"
          [options]="options"
          optionLabel="label"
          optionValue="value"
          [allowEmpty]="false"
          [ngModel]="value()"
          (ngModelChange)="set($event)"
        />
      } @else {
        <p-select
          [ariaLabel]="name()"
          placeholder="not planned"
          [options]="options"
          optionLabel="label"
          optionValue="value"
          appendTo="body"
          [ngModel]="value()"
          (ngModelChange)="set($event)"
        />
      }
    } @else {
      <p-inputnumber
        [ariaLabel]="name()"
        placeholder="not planned"
        [suffix]="' ' + definition().unit"
        [useGrouping]="false"
        [step]="definition().step"
        [ngModel]="typed()"
        (onInput)="type($event.value)"
        (onBlur)="settle()"
        [invalid]="!!fault()"
      />
      @if (fault(); as text) {
        <small role="alert">{{ text }}</small>
      }
    }
  `,
  styles: `
    .calibrated {
      border: 1px solid var(--rule);
      background: var(--tint);
      border-radius: var(--r);
      min-height: 30px;
      padding: 0 var(--s4);
      display: flex;
      align-items: center;
      justify-content: space-between;
      font-weight: 600;
      font-size: var(--fs-body);
    }
    em {
      font: 400 var(--fs-note) var(--sans);
      color: var(--ink-3);
    }
    .split {
      display: flex;
      border: 1px solid var(--edge);
      border-radius: var(--r);
      overflow: hidden;
    }
    .cell {
      flex: 1;
      min-height: 30px;
      padding: 0 var(--s1);
      border: 0;
      border-left: 1px solid var(--rule);
      background: transparent;
      font: 600 var(--fs-small) var(--mono);
      cursor: pointer;
    }
    .cell:first-child {
      border-left: 0;
    }
    .cell em {
      margin-right: var(--s2);
    }
    .cell.on {
      background: var(--petrol);
      color: var(--on-petrol);
    }
    .cell.on em {
      color: inherit;
    }
    small {
      color: var(--copper);
      font-size: var(--fs-note);
      display: block;
      line-height: 1.25;
      padding: var(--s1) 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ParameterEditorComponent {
  readonly definition = input.required<ParameterDefinition>();
  readonly planned = input.required<PlannedValue | undefined>();
  readonly motors = input.required<number>();
  /** Which motors are meant, where not all are. */
  readonly about = input('');
  readonly changed = output<PlannedValue>();

  protected readonly name = computed(() => this.definition().name + (this.about() && `, ${this.about()}`));
  /** Few choices, told apart by their first letter: one cell per motor has room for it. */
  private readonly isLettered = computed(() => (this.definition().choices?.length ?? 9) <= 3);
  /** Values of a plan per motor, as far as they fit; the open line has room to change them. */
  protected readonly numbers = computed(() => {
    const planned = this.planned();
    if (planned?.kind !== 'per motor' || this.isLettered()) return undefined;
    const [least, most] = [Math.min(...planned.values), Math.max(...planned.values)];
    const shown = planned.values.length > 4 ? [least, most] : planned.values;
    return shown.map((v) => this.label(v)).join(planned.values.length > 4 ? ' … ' : ' ');
  });
  protected readonly choices = computed(() => this.definition().choices && [...this.definition().choices!]);
  protected readonly value = computed(() => {
    const planned = this.planned();
    return planned?.kind === 'same' ? planned.value : undefined;
  });
  protected readonly perMotor = computed(() => {
    const planned = this.planned();
    return planned?.kind === 'per motor' && this.isLettered() ? planned.values : undefined;
  });
  /** What stands in the field; it stays as typed while it is refused. */
  protected readonly typed = linkedSignal(() => this.value());
  protected readonly fault = computed(() => {
    const typed = this.typed();
    return typed === undefined || typed === this.value() ? undefined : refusalOf(this.definition(), typed);
  });

  protected label(value: number): string {
    return this.definition().choices?.find((c) => c.value === value)?.label ?? String(value);
  }

  protected set(value: number): void {
    this.changed.emit({kind: 'same', value});
  }

  protected flip(motor: number): void {
    const options = this.definition()
      .choices!.filter((c) => !c.rare)
      .map((c) => c.value);
    const values = this.perMotor()!.map((v, i) =>
      i === motor ? options[(options.indexOf(v) + 1) % options.length]! : v,
    );
    this.changed.emit({kind: 'per motor', values});
  }

  protected type(value: number | string | null): void {
    this.typed.set(value === null || value === '' ? NaN : Number(value));
  }

  /** Takes a good value into the plan when the field is left; a refused one stays, with its reason. */
  protected settle(): void {
    const typed = this.typed();
    if (typed !== undefined && typed !== this.value() && !refusalOf(this.definition(), typed)) this.set(typed);
  }
}
