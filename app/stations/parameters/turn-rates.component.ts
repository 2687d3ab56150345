import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {rateHeads, ratesSheet} from '@core/sheets/parameters/turn-rates';
import {ChartComponent} from '../../charts/chart.component';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {curveOption} from './curve-chart';

/** How quickly the craft is told to turn over the stick, axis by axis: found beside planned. */
@Component({
  selector: 'bx-turn-rates',
  imports: [ChartComponent],
  template: `
    @if (sheet(); as s) {
      <h2>Turn rates over the stick</h2>
      <div class="axes">
        @for (row of s.rows; track row.name; let i = $index) {
          <section [class.differs]="row.differs">
            <h3>{{ row.name }}, deg/s</h3>
            <bx-chart [option]="options()[i]!" [height]="150" [label]="row.label" />
            <dl>
              @for (cell of row.cells; track $index) {
                <dt>{{ heads[$index] }}</dt>
                <dd class="n">{{ cell }}</dd>
              }
            </dl>
          </section>
        }
      </div>
    }
  `,
  styles: `
    .axes {
      display: grid;
      grid-template-columns: repeat(3, 1fr);
      gap: var(--s5);
    }
    h3 {
      font-size: var(--fs-note);
      font-weight: 650;
      margin: var(--s4) 0 0;
    }
    dl {
      display: grid;
      grid-template-columns: 1fr max-content;
      gap: var(--s1) var(--s4);
      margin: 0;
      font-size: var(--fs-note);
    }
    dt {
      color: var(--ink-2);
    }
    dd {
      margin: 0;
    }
    .differs dd {
      color: var(--copper);
      font-weight: 600;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TurnRatesComponent {
  protected readonly heads = rateHeads;
  protected readonly sheet = inject(CraftQuestionStore).sheet((q) => ratesSheet(q));
  protected readonly options = computed(() => {
    const {rows, highest} = this.sheet()!;
    return rows.map(({curves}) => curveOption(curves, {start: 'centre', top: highest}));
  });
}
