import {ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import type {UnitOf} from '@core/flight/mapping';
import type {OpenFlight} from '@core/noise/flight-summary';
import {unitsSheet} from '@core/sheets/noise/noise';
import {FlightStore} from '../../state/flights/flight.store';

/** Units of the open log that were guessed, where another one fits too: a person says, and the log is read again. */
@Component({
  selector: 'bx-unit-questions',
  imports: [FormsModule, SelectButton],
  template: `
    @if (sheet().questions.length) {
      <section class="ask" aria-label="Units of this log">
        <b>Check the units of this log</b>
        @for (question of sheet().questions; track question.about) {
          <p [id]="'unit-' + question.about">{{ question.text }}</p>
          @if (question.options.length) {
            <p-selectbutton
              [ariaLabelledBy]="'unit-' + question.about"
              [options]="question.options"
              [allowEmpty]="false"
              [ngModel]="said()[question.about]"
              (ngModelChange)="say(question.about, $event)"
            />
          } @else {
            <button type="button" class="link" (click)="flights.remap()">Say what its columns hold</button>
          }
        }
        @if (sheet().isChoice) {
          <button type="button" class="btn" (click)="read()">Read the log with these units</button>
        }
      </section>
    }
  `,
  styles: `
    .ask {
      display: grid;
      gap: var(--s4);
      justify-items: start;
      border: 1px solid var(--edge);
      border-left: 4px solid var(--ochre);
      background: var(--sheet);
      padding: var(--s5) var(--s6);
      margin-bottom: var(--s6);
    }
    p {
      margin: 0;
      max-width: 80ch;
    }
    p-selectbutton {
      width: min(100%, 360px);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class UnitQuestionsComponent {
  readonly open = input.required<OpenFlight>();
  protected readonly flights = inject(FlightStore);
  protected readonly sheet = computed(() => unitsSheet(this.open()));
  /** What each was taken for, until a person says otherwise. */
  protected readonly said = linkedSignal((): Partial<Record<UnitOf, string>> => this.sheet().taken);

  protected say(about: UnitOf, unit: string): void {
    this.said.update((all) => ({...all, [about]: unit}));
  }

  protected read(): void {
    void this.flights.sayUnits(this.said());
  }
}
