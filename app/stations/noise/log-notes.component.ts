import {ChangeDetectionStrategy, Component, computed, inject, input} from '@angular/core';
import {notedFields, type Noted} from '@core/flight/noted';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {FlightStore, type OpenFlight} from '../../state/flight.store';

/** What was found and left out while the log was read, what its columns are taken for, and a note of one's own. */
@Component({
  selector: 'bx-log-notes',
  imports: [NumberFieldComponent],
  template: `
    <details>
      <summary>The log as it was read{{ troubles().length ? ': ' + troubles().join(', ') : '' }}</summary>
      <ul>
        @for (line of lines(); track $index) {
          <li>{{ line }}</li>
        }
      </ul>
      @if (!open().flight.isDemo) {
        <div class="form">
          @for (f of fields; track f.field) {
            <bx-number-field
              [name]="'noted-' + f.field"
              [label]="f.name"
              [unit]="' ' + f.unit"
              [min]="f.field === 'escC' || f.field === 'motorC' ? -40 : 0"
              [max]="f.most"
              [digits]="1"
              placeholder="not measured"
              [value]="open().flight.noted?.[f.field]"
              (changed)="measure(f.field, $event)"
            />
          }
        </div>
        <label
          >Note on this flight: what you felt and noticed
          <textarea rows="2" maxlength="4000" [value]="open().flight.notes ?? ''" (change)="note($event)"></textarea>
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
  protected readonly fields = notedFields;
  /** In a few words, for the closed line. */
  protected readonly troubles = computed(() => {
    const {dropped, otherFlights, stretches} = this.open().summary;
    const filled = dropped.gaps.filter((g) => g.filled).length;
    return [
      ...(dropped.badValues ? [`${dropped.badValues} bad rows`] : []),
      ...(dropped.repeatedTimes ? [`${dropped.repeatedTimes} repeated times`] : []),
      ...(filled ? [`${filled} short gaps filled`] : []),
      ...(stretches.length > 1 ? [`${stretches.length} stretches`] : []),
      ...(otherFlights.length ? [`${otherFlights.length} more flights in the file`] : []),
    ];
  });
  protected readonly lines = computed((): string[] => {
    const {summary} = this.open();
    const {dropped, otherFlights, names, mapping, notes, drift, sampleRateHz, samples} = summary;
    const name = (c: number) => names[c]!;
    return [
      `${samples.toLocaleString('en-GB')} rows at ${sampleRateHz.toFixed(1)} Hz; what lies beyond ${(sampleRateHz / 2).toFixed(0)} Hz is unknown, and a line from there aliases down.`,
      `Time is ${name(mapping.time)} in ${mapping.timeUnit}; gyro ${mapping.gyro.map(name).join(', ')} in ${mapping.gyroUnit}${mapping.speeds.length ? `; speeds ${mapping.speeds.map(name).join(', ')} in ${mapping.speedUnit}${mapping.speedScale === 1 ? '' : ` × ${mapping.speedScale}`}` : ''}.`,
      ...(summary.chargeMah === undefined
        ? []
        : [`${summary.chargeMah.toFixed(0)} mAh went through the log's current sensor.`]),
      ...dropped.badCells
        .slice(0, 12)
        .map(
          (c) =>
            `Line ${c.line}, ${name(c.column)}: ${c.text === '' ? 'the cell is empty' : `"${c.text}" is not a number`}; the row was skipped.`,
        ),
      ...(dropped.badValues > 12 ? [`${dropped.badValues - 12} more bad rows were skipped.`] : []),
      ...dropped.gaps
        .slice(0, 12)
        .map(
          (g) =>
            `At ${g.atS.toFixed(2)} s ${g.missing} ${g.missing === 1 ? 'row is' : 'rows are'} missing; ${g.filled ? 'filled along a straight line' : 'the flight is parted there'}.`,
        ),
      ...(dropped.gaps.length > 12 ? [`${dropped.gaps.length - 12} more gaps.`] : []),
      ...(dropped.repeatedTimes
        ? [`${dropped.repeatedTimes} rows repeat a time or run backwards and were skipped.`]
        : []),
      ...otherFlights.map(
        (f) =>
          `Another flight begins at line ${f.fromLine} with ${f.rows.toLocaleString('en-GB')} rows; the longest is shown.`,
      ),
      ...(drift > 0.002
        ? [`The clock drifts by up to ${(drift * 100).toFixed(1)} % over the flight, and with it every frequency.`]
        : []),
      ...notes.filter((n) => !n.startsWith('flown with')).slice(0, 6),
    ];
  });

  protected note(event: Event): void {
    const {flight} = this.open();
    void this.flights.note(flight, {notes: (event.target as HTMLTextAreaElement).value, noted: flight.noted});
  }

  protected measure(field: keyof Noted, value: number): void {
    const {flight} = this.open();
    void this.flights.note(flight, {notes: flight.notes, noted: {...flight.noted, [field]: value}});
  }
}
