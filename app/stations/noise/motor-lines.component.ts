import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {motorLines} from '@core/sheets/noise/motor-lines';
import {FleetStore} from '../../state/fleet.store';
import {FlightStore} from '../../state/flights/flight.store';
import {NoiseStore} from '../../state/flights/noise.store';

/** What each motor makes at multiples of its speed, with bounds: bars to one scale, figures beside them. */
@Component({
  selector: 'bx-motor-lines',
  template: `
    @if (sheet(); as s) {
      <h2>Motor lines on {{ noise.axis() }}, peak deg/s</h2>
      <table>
        <thead>
          <tr>
            <th scope="col">Motor</th>
            @for (order of s.orders; track order) {
              <th scope="col">{{ order }}</th>
            }
            <th scope="col">Falls in</th>
          </tr>
        </thead>
        <tbody>
          @for (row of s.rows; track row.motor) {
            <tr [class.odd]="row.isOdd">
              <th scope="row">{{ row.motor }}</th>
              @for (cell of row.cells; track $index) {
                <td>
                  @if (cell) {
                    <span class="n">{{ cell.text }}</span>
                    @if (cell.phase) {
                      <span class="n quiet"> {{ cell.phase }}</span>
                    }
                    <i class="bar" [style.width.%]="cell.width" [class.dark]="row.isOdd"></i>
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
      <p class="foot">{{ s.foot }}</p>
    }
  `,
  styleUrl: './motor-lines.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MotorLinesComponent {
  protected readonly noise = inject(NoiseStore);
  private readonly flights = inject(FlightStore);
  private readonly fleet = inject(FleetStore);
  protected readonly sheet = computed(() => {
    const [open, blades] = [this.flights.current(), this.fleet.current()?.propeller.blades];
    return open && motorLines(open.summary.report, this.noise.axis(), blades);
  });
}
