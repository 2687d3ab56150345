import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {gainHeads, gainsSheet} from '@core/sheets/parameters/gains';
import {ChartComponent} from '../../charts/chart.component';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FlightStore} from '../../state/flights/flight.store';
import {curveOption} from './curve-chart';

/** Gains of the rate loop, axis by axis, and how they are taken back over throttle: found beside planned. */
@Component({
  selector: 'bx-gains',
  imports: [ChartComponent],
  templateUrl: './gains.component.html',
  styleUrl: './gains.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GainsComponent {
  private readonly flights = inject(FlightStore);
  protected readonly heads = gainHeads;
  protected readonly sheet = inject(CraftQuestionStore).sheet((q) => {
    const open = this.flights.current();
    return gainsSheet(q, {flight: open?.flight, crossover: open?.summary.report.crossover});
  });
  protected readonly option = computed(() => curveOption(this.sheet()!.attenuation, {start: '0 %', top: 1}));
}
