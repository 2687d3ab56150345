import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {filtersSheet, type FiltersNow} from '@core/sheets/noise/filters';
import {ChartComponent} from '../../../charts/chart.component';
import {CraftQuestionStore} from '../../../state/craft-question.store';
import {FlightStore} from '../../../state/flights/flight.store';
import {NoiseStore} from '../../../state/flights/noise.store';
import {filterColours} from './filter-colours';
import {FilterFormComponent} from './filter-form.component';
import {delayOption, spectraOption, windowOption} from './filter-charts';

/** The planned filters, what they would leave of the flight, and what they cost in time. */
@Component({
  selector: 'bx-filters-view',
  imports: [ChartComponent, FilterFormComponent],
  templateUrl: './filters-view.component.html',
  styleUrl: './filters-view.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FiltersViewComponent {
  protected readonly noise = inject(NoiseStore);
  protected readonly flights = inject(FlightStore);
  protected readonly sheet = inject(CraftQuestionStore).sheet((q) => filtersSheet(q, this.now()));
  protected readonly spectra = computed(() => {
    const planned = this.noise.planned();
    return planned && spectraOption(planned.forecast, this.sheet()!.axis);
  });
  protected readonly delays = computed(() => {
    const planned = this.noise.planned();
    return planned && delayOption(planned.curve, this.noise.found()?.curve, this.noise.crossoverHz());
  });
  protected readonly moment = computed(() => {
    const [window, sheet] = [this.noise.window(), this.sheet()];
    return window && sheet && windowOption(window, sheet.axis);
  });
  protected readonly colours = filterColours;

  private now(): FiltersNow {
    const {axis, planned, found, gain, plannedChain, filterRateHz} = this.noise;
    return {
      ...{axis: axis(), planned: planned(), found: found(), gain: gain(), plannedChain: plannedChain()},
      ...{filterRateHz: filterRateHz(), crossover: this.flights.current()?.summary.report.crossover},
    };
  }
}
