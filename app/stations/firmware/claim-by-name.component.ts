import {ChangeDetectionStrategy, Component, computed, input, output, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {InputText} from 'primeng/inputtext';

/** Confirms a board that nothing tells: its name typed out, and who says so. */
@Component({
  selector: 'bx-claim-by-name',
  imports: [FormsModule, InputText],
  template: `
    <div class="confirm">
      <label
        >Type the board's name<input
          pInputText
          autocomplete="off"
          [ngModel]="typed()"
          (ngModelChange)="typed.set($event)"
      /></label>
      <label>Your name, for the record<input pInputText [ngModel]="by()" (ngModelChange)="by.set($event)" /></label>
      <button type="button" class="btn full" [disabled]="!isConfirmed()" (click)="confirmed.emit(by().trim())">
        Confirm: it is a {{ board() }}
      </button>
    </div>
    @if (typed() && typed().trim() !== board()) {
      <p role="status">"{{ typed() }}" is not "{{ board() }}" yet.</p>
    }
  `,
  styles: `
    .confirm {
      display: flex;
      gap: var(--s6);
      align-items: flex-end;
      padding-top: var(--s5);
      flex-wrap: wrap;
    }
    label {
      display: grid;
      gap: var(--s2);
    }
    p {
      padding-top: var(--s3);
      color: var(--copper);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ClaimByNameComponent {
  readonly board = input.required<string>();
  /** Emits who confirmed it. */
  readonly confirmed = output<string>();
  protected readonly typed = signal('');
  protected readonly by = signal('');
  protected readonly isConfirmed = computed(() => this.typed().trim() === this.board() && this.by().trim().length > 1);
}
