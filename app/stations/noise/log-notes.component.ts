import {ChangeDetectionStrategy, Component, computed, inject, input} from '@angular/core';
import type {Noted} from '@core/flight/noted';
import type {OpenFlight} from '@core/noise/flight-summary';
import {logNotes} from '@core/sheets/noise/log-notes';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {FlightStore} from '../../state/flights/flight.store';

/** What was found and left out while the log was read, what its columns are taken for, and a note of one's own. */
@Component({
  selector: 'bx-log-notes',
  imports: [NumberFieldComponent],
  template: `
    <details>
      <summary>The log as it was read{{ sheet().troubles ? ': ' + sheet().troubles : '' }}</summary>
      <ul>
        @for (line of sheet().lines; track $index) {
          <li>{{ line }}</li>
        }
      </ul>
      @if (sheet().isOwn) {
        <div class="form">
          @for (f of sheet().fields; track f.field) {
            <bx-number-field
              [name]="'noted-' + f.field"
              [label]="f.name"
              [unit]="' ' + f.unit"
              [min]="f.min"
              [max]="f.max"
              [digits]="1"
              placeholder="not measured"
              [value]="f.value"
              (changed)="measure(f.field, $event)"
            />
          }
        </div>
        <label
          >Note on this flight: what you felt and noticed
          <textarea rows="2" maxlength="4000" [value]="sheet().note" (change)="note($event)"></textarea>
        </label>
        <button type="button" class="link" (click)="flights.remap()">Say what its columns hold</button>
        <button type="button" class="link" (click)="flights.remove(open().flight)">Remove this log</button>
      }
    </details>
  `,
  styles: `
    details {
      font-size: var(--fs-note);
      color: var(--ink-2);
      margin-top: var(--s6);
    }
    summary {
      cursor: pointer;
      padding: var(--s3) 0;
    }
    label {
      display: grid;
      gap: var(--s2);
      max-width: 60ch;
      margin: var(--s4) 0;
    }
    .form {
      display: grid;
      grid-template-columns: 160px 140px;
      align-items: center;
      gap: var(--s3) var(--s6);
      padding: var(--s4) 0;
    }
    .link + .link {
      margin-left: var(--s7);
    }
    textarea {
      font: inherit;
      color: var(--ink);
      background: var(--sheet);
      border: 1px solid var(--edge);
      border-radius: var(--r);
      padding: var(--s3);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LogNotesComponent {
  readonly open = input.required<OpenFlight>();
  protected readonly flights = inject(FlightStore);
  protected readonly sheet = computed(() => logNotes(this.open()));

  protected note(event: Event): void {
    const {flight} = this.open();
    void this.flights.note(flight, {notes: (event.target as HTMLTextAreaElement).value, noted: flight.noted});
  }

  protected measure(field: keyof Noted, value: number): void {
    const {flight} = this.open();
    void this.flights.note(flight, {notes: flight.notes, noted: {...flight.noted, [field]: value}});
  }
}
