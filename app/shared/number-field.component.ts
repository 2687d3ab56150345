import {ChangeDetectionStrategy, Component, computed, input, linkedSignal, output} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {InputNumber} from 'primeng/inputnumber';

/** A number with its label and unit, as two cells of a form's grid. */
@Component({
  selector: 'bx-number-field',
  imports: [FormsModule, InputNumber],
  template: `
    <label [attr.for]="name()">{{ label() }}</label>
    <div>
      <p-inputnumber
        [inputId]="name()"
        [suffix]="unit()"
        [step]="step()"
        [maxFractionDigits]="digits()"
        [useGrouping]="grouping()"
        [showButtons]="buttons()"
        [disabled]="disabled()"
        [placeholder]="placeholder()"
        [ngModel]="shown()"
        [ngModelOptions]="{updateOn: buttons() ? 'change' : 'blur'}"
        (ngModelChange)="take($event)"
        [invalid]="refusal() !== ''"
        [ariaDescribedBy]="refusal() ? name() + '-refused' : undefined"
      />
      @if (refusal(); as why) {
        <small class="refused" role="alert" [id]="name() + '-refused'">{{ why }}</small>
      }
    </div>
  `,
  styles: ':host { display: contents; } .refused { display: block; color: var(--copper); }',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NumberFieldComponent {
  /** Ties label and field; unique on the page. */
  readonly name = input.required<string>();
  readonly label = input.required<string>();
  readonly value = input.required<number | undefined>();
  readonly min = input.required<number>();
  readonly max = input.required<number>();
  /** Only multiples of it are taken; any number where it is undefined. */
  readonly multipleOf = input<number | undefined>(undefined);
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
  /** The field was emptied: there is no value any more. Without a listener the value stays. */
  readonly cleared = output();

  /** What was typed and refused; it stays in the field until another is typed. */
  private readonly refused = linkedSignal<number | undefined, number | undefined>({
    source: this.value,
    computation: () => undefined,
  });
  protected readonly shown = computed(() => this.refused() ?? this.value());
  protected readonly refusal = computed(() => {
    const typed = this.refused();
    if (typed === undefined) return '';
    const [low, high] = [this.min(), this.max()].map((bound) => `${bound.toLocaleString('en')}${this.unit()}`);
    const even = this.multipleOf() === undefined ? '' : `, in steps of ${this.multipleOf()!}`;
    return `${typed} is not taken: from ${low!} to ${high!}${even}. Nothing was changed.`;
  });

  /** What is out of range is refused, not bent. */
  protected take(typed: number | null): void {
    if (typed === null) return this.cleared.emit();
    const step = this.multipleOf();
    const isTaken = typed >= this.min() && typed <= this.max() && (step === undefined || typed % step === 0);
    this.refused.set(isTaken ? undefined : typed);
    if (isTaken) this.changed.emit(typed);
  }
}
