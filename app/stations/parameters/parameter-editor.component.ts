import {ChangeDetectionStrategy, Component, computed, input, linkedSignal, output} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {InputNumber} from 'primeng/inputnumber';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import type {PlannedValue} from '@core/craft/craft';
import type {ParameterDefinition} from '@core/settings/definitions';
import {editorSheet, refusalOf, withNextChoice} from '@core/sheets/parameters/parameter-editor';

/** Edits the planned value of one parameter: for all motors, or motor by motor. */
@Component({
  selector: 'bx-parameter-editor',
  imports: [FormsModule, InputNumber, Select, SelectButton],
  template: `
    @let editor = sheet();
    @switch (editor.kind) {
      @case ('told') {
        <div class="calibrated">
          <span class="mono">{{ editor.text }}</span><em>{{ editor.note }}</em>
        </div>
      }
      @case ('cells') {
        <div class="split">
          @for (cell of editor.cells; track cell.motor) {
            <button
              type="button"
              class="cell"
              [class.on]="cell.isOn"
              (click)="flip(cell.motor - 1)"
              [attr.aria-label]="cell.name"
            >
              <em>{{ cell.motor }}</em>{{ cell.letter }}
            </button>
          }
        </div>
      }
      @case ('choices') {
        @if (editor.isFew) {
          <p-selectbutton
            [ariaLabel]="name()"
            [options]="editor.options"
            optionLabel="label"
            optionValue="value"
            [allowEmpty]="false"
            [ngModel]="editor.value"
            (ngModelChange)="set($event)"
          />
        } @else {
          <p-select
            [ariaLabel]="name()"
            placeholder="not planned"
            [options]="editor.options"
            optionLabel="label"
            optionValue="value"
            appendTo="body"
            [ngModel]="editor.value"
            (ngModelChange)="set($event)"
          />
        }
      }
      @default {
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
      font: 600 var(--fs-note) var(--mono);
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
  protected readonly sheet = computed(() => editorSheet(this.definition(), this.planned()));
  private readonly value = computed(() => {
    const planned = this.planned();
    return planned?.kind === 'same' ? planned.value : undefined;
  });
  /** What stands in the field; it stays as typed while it is refused. */
  protected readonly typed = linkedSignal(() => this.value());
  protected readonly fault = computed(() => {
    const typed = this.typed();
    return typed === undefined || typed === this.value() ? undefined : refusalOf(this.definition(), typed);
  });

  protected set(value: number): void {
    this.changed.emit({kind: 'same', value});
  }

  protected flip(motor: number): void {
    const planned = this.planned();
    if (planned?.kind === 'per motor') this.changed.emit(withNextChoice(this.definition(), planned.values, motor));
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
