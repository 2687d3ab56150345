import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import type {OrderAmplitude} from '@core/noise/order-sums';
import {FlightStore} from '../../state/flight.store';
import {NoiseStore} from '../../state/noise.store';

interface LineRow {
  readonly motor: number;
  readonly cells: readonly (OrderAmplitude | undefined)[];
  readonly coast: string;
  readonly isOdd: boolean;
}

/** What each motor makes at multiples of its speed, with bounds: bars to one scale, figures beside them. */
@Component({
  selector: 'bx-motor-lines',
  template: `
    @if (rows().length) {
      <h2>Motor lines on {{ noise.axis() }}, peak deg/s</h2>
      <table>
        <thead>
          <tr>
            <th scope="col">Motor</th>
            @for (order of orders(); track order) {
              <th scope="col">{{ order }}×{{ order === blades() ? ', blades' : '' }}</th>
            }
            <th scope="col">Falls in</th>
          </tr>
        </thead>
        <tbody>
          @for (row of rows(); track row.motor) {
            <tr [class.odd]="row.isOdd">
              <th scope="row">{{ row.motor + 1 }}{{ row.isOdd ? ' ◆' : '' }}</th>
              @for (cell of row.cells; track $index) {
                <td>
                  @if (cell) {
                    <span class="n">{{ cell.amplitude.toFixed(1) }} ± {{ cell.bound.toFixed(1) }}</span>
                    @if (noise.axis() !== 'roll' && cell.steadiness > 0.6) {
                      <span class="n quiet"> ∠ {{ cell.phaseDeg.toFixed(0) }}°</span>
                    }
                    <i class="bar" [style.width.%]="(cell.amplitude / most()) * 100" [class.dark]="row.isOdd"></i>
                  } @else {
                    <span class="quiet">no estimate</span>
                  }
                </td>
              }
              <td class="n">{{ row.coast }}</td>
            </tr>
          }
        </tbody>
      </table>
      <p class="foot">
        Each at its motor's most frequent speed, by least squares on the phase of all motors at once{{
          blocks() ? ', in blocks of ' + blocks() : ''
        }}; a block in which two motors are too near in speed does not count.
        @if (noise.axis() !== 'roll') {
          ∠: phase lead over roll, where it is steady.
        }
      </p>
    }
  `,
  styleUrl: './motor-lines.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MotorLinesComponent {
  protected readonly noise = inject(NoiseStore);
  private readonly flights = inject(FlightStore);
  private readonly report = computed(() => this.flights.current()?.summary.report);
  protected readonly orders = computed(() => [...(this.report()?.orders[0]?.orders.keys() ?? [])]);
  protected readonly blades = computed(() => this.orders().at(-1)!);
  protected readonly rows = computed((): LineRow[] => {
    const report = this.report();
    const axis = this.noise.axis();
    return (report?.orders ?? []).map(({orders}, motor) => {
      const coast = report!.coast[motor];
      return {
        motor,
        cells: [...orders.values()].map((o) => o?.[axis]),
        coast: coast ? `${(coast.seconds * 1000).toFixed(0)} ms` : '–',
        isOdd: report!.findings.some((f) => f.motor === motor),
      };
    });
  });
  /** Lengths of the blocks that were needed. */
  protected readonly blocks = computed(() => {
    const all = this.rows().flatMap((r) => r.cells.flatMap((c) => (c ? [c.blockS] : [])));
    return [...new Set(all)]
      .sort((a, b) => a - b)
      .map((s) => `${s} s`)
      .join(' and ');
  });
  protected readonly most = computed(() =>
    Math.max(1e-9, ...this.rows().flatMap((r) => r.cells.map((c) => c?.amplitude ?? 0))),
  );
}
