import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {RouterLink} from '@angular/router';
import {SelectModule} from 'primeng/select';
import {symptomSheet, type Symptom} from '@core/sheets/craft/symptoms';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FlightStore} from '../../state/flights/flight.store';
import {MotionStore} from '../../state/spin/motion.store';
import {WorkStore} from '../../state/work.store';

/** The way in by what the craft does: where its causes show, and what is known of each place. */
@Component({
  selector: 'bx-symptoms',
  imports: [FormsModule, RouterLink, SelectModule],
  template: `
    @if (sheet(); as sheet) {
      <div class="ask">
        <span id="symptom-label">What does it do wrong?</span>
        <p-select
          ariaLabelledBy="symptom-label"
          placeholder="nothing"
          [options]="$any(sheet.choices)"
          optionLabel="label"
          optionValue="value"
          appendTo="body"
          [showClear]="true"
          [ngModel]="symptom()"
          (ngModelChange)="symptom.set($event ?? undefined)"
        />
      </div>
      @if (sheet.looks.length) {
        <ol aria-label="Where to look">
          @for (look of sheet.looks; track $index) {
            <li>
              <a [routerLink]="['..', look.station]">{{ look.title }}</a>: {{ look.why }}.
              <p>
                <span class="tag" [class]="look.tag">{{ look.word }}</span> {{ look.text }}
              </p>
            </li>
          }
        </ol>
      }
    }
  `,
  styles: `
    .ask {
      display: flex;
      align-items: center;
      gap: var(--s7);
      margin-bottom: var(--s5);
      font-size: var(--fs-body);
    }
    #symptom-label {
      white-space: nowrap;
    }
    p-select {
      flex: 0 1 400px;
    }
    ol {
      margin: 0 0 var(--s8);
      padding-left: var(--s8);
      font-size: var(--fs-body);
    }
    li {
      padding: var(--s3) 0;
      border-bottom: 1px solid var(--rule-2);
    }
    li p {
      margin: var(--s2) 0 0;
      color: var(--ink-2);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SymptomsComponent {
  private readonly flights = inject(FlightStore);
  private readonly runs = inject(MotionStore);
  private readonly work = inject(WorkStore);
  private readonly judged = inject(CraftQuestionStore).judged;
  protected readonly symptom = signal<Symptom | undefined>(undefined);
  protected readonly sheet = computed(() => {
    const q = this.judged();
    const open = {run: this.runs.own(), flight: this.flights.current(), breaches: this.work.findings()};
    return q && symptomSheet(q, open, this.symptom());
  });
}
