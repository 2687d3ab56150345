import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import type {Part} from '@core/bench/replaced';
import {replaceableParts, takenBackBy} from '@core/sheets/survey/replaced-parts';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {CraftQuestionStore} from '../../state/craft-question.store';

/** A person says that a part is another one now: what rested on it is no longer valid. */
@Component({
  selector: 'bx-replaced-parts',
  imports: [FormsModule, Select],
  template: `
    <h2>Replaced a part?</h2>
    <p class="quiet">
      An ESC is recognised by its serial. A motor is not: say so, and everything that was measured on the one before is
      measured again.
    </p>
    <div class="row">
      <p-select
        ariaLabel="Part that was replaced"
        placeholder="Part"
        [options]="parts()"
        optionLabel="name"
        optionValue="part"
        [ngModel]="picked()"
        (ngModelChange)="picked.set($event)"
      />
      <button type="button" class="btn" [disabled]="!own()" (click)="note()">Note as replaced</button>
    </div>
    @if (own()) {
      <p>
        @if (takesBack().length) {
          No longer valid after that: {{ takesBack().join('; ').toLowerCase() }}.
        } @else {
          No proof of now rests on it.
        }
      </p>
    }
    @if (noted(); as name) {
      <p role="status">
        <span class="tag wait">noted</span> {{ name }} was replaced. Use a current limiter at the next power-up.
      </p>
    }
  `,
  styles: `
    .row {
      display: flex;
      gap: var(--s4);
      align-items: center;
      padding: var(--s3) 0;
    }
    .row .btn {
      white-space: nowrap;
    }
    p {
      font-size: var(--fs-body);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ReplacedPartsComponent {
  private readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);
  private readonly route = inject(CraftQuestionStore);
  protected readonly parts = computed(() => replaceableParts(this.fleet.current()!));
  protected readonly picked = signal<Part | undefined>(undefined);
  protected readonly own = computed(() => this.parts().find((p) => p.part === this.picked()));
  protected readonly takesBack = computed(() => {
    const [part, question] = [this.picked(), this.route.question()];
    return part && question ? takenBackBy(part, question) : [];
  });
  protected readonly noted = signal<string | undefined>(undefined);

  protected note(): void {
    const own = this.own();
    if (!own) return;
    this.record.notePartReplaced(own.part);
    this.record.addNote(`${own.name} was replaced`);
    this.noted.set(own.name);
    this.picked.set(undefined);
  }
}
