import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {polesSheet, type PolesNow} from '@core/sheets/signal/poles';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FlightStore} from '../../state/flights/flight.store';
import {MotionStore} from '../../state/spin/motion.store';
import {SignalFindingsComponent} from './signal-findings.component';

/** The pole count: what a wrong one does, and what speeds and flights say of it. */
@Component({
  selector: 'bx-poles-view',
  imports: [NumberFieldComponent, SignalFindingsComponent],
  template: `
    @if (sheet(); as sheet) {
      <h2 class="first">What shows the count</h2>
      <bx-signal-findings [findings]="sheet.findings" label="What shows the pole count" />
      <h2>What a wrong count does</h2>
      <div class="form">
        <bx-number-field
          name="poles-rpm"
          label="A motor turns with"
          unit=" rpm"
          [min]="600"
          [max]="200000"
          [step]="500"
          [buttons]="true"
          [grouping]="true"
          [value]="sheet.rpm"
          (changed)="rpm.set($event || 600)"
        />
      </div>
      <table class="plain" aria-label="What a wrong pole count does">
        <thead>
          <tr>
            <th>Poles</th>
            <th>Reads</th>
            <th>Times the true speed</th>
            <th>First notch at</th>
            <th>Beside the line by</th>
            <th>Leaves of the line</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          @for (line of sheet.lines; track line.poles) {
            <tr [class.here]="line.isCounted">
              <td class="n">{{ line.poles }}</td>
              <td class="n">{{ line.reads }}</td>
              <td class="n">{{ line.ratio }}</td>
              <td class="n">{{ line.notch }}</td>
              <td class="n">{{ line.beside }}</td>
              <td class="n">{{ line.leaves }}</td>
              <td>
                @if (line.isCounted) {
                  <span class="tag ok">counted</span>
                }
                @if (line.isPlanned) {
                  <span class="tag plan">planned</span>
                }
              </td>
            </tr>
          }
        </tbody>
      </table>
      <p class="quiet small">{{ sheet.note }}</p>
    }
  `,
  styles: `
    h2.first {
      padding-top: 0;
    }
    .form {
      display: grid;
      grid-template-columns: 150px 180px;
      gap: var(--s4) var(--s6);
      align-items: center;
      font-size: var(--fs-body);
      padding: var(--s4) 0;
    }
    tr.here {
      background: var(--tint);
    }
    .small {
      font-size: var(--fs-note);
      padding-top: var(--s3);
      max-width: 100ch;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PolesViewComponent {
  private readonly flights = inject(FlightStore);
  private readonly motion = inject(MotionStore);

  protected readonly rpm = signal<number | undefined>(undefined);
  protected readonly sheet = inject(CraftQuestionStore).sheet((q) => polesSheet(q, this.now()));

  private readonly now = computed((): PolesNow => {
    const [own, flight] = [this.motion.own(), this.flights.current()?.summary.report];
    // Speeds of a file were made with poles that somebody else believed.
    const run = own?.source === 'file' ? undefined : own;
    const kvsOf = ({report}: NonNullable<typeof run>) =>
      report.motors.flatMap(({kv}) => (kv.value === undefined ? [] : [kv.value]));
    return {
      card: run && {kvs: kvsOf(run), poles: run.poles},
      flight: flight && {verdict: flight.poles, loggedPoles: flight.loggedPoles},
      rpm: this.rpm(),
    };
  });

  constructor() {
    void this.motion.open();
  }
}
