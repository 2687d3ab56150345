import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import type {Flight} from '@core/flight/flight';
import {compareSheet} from '@core/sheets/noise/compare-flights';
import {ChartComponent} from '../../charts/chart.component';
import {CompareStore} from '../../state/flights/compare.store';
import {FlightStore} from '../../state/flights/flight.store';
import {NoiseStore} from '../../state/flights/noise.store';
import {compareOption} from './compare-chart';

/** The open flight against an earlier one at equal motor speeds, and whether that proves the craft quieter. */
@Component({
  selector: 'bx-compare-flights',
  imports: [FormsModule, Select, ChartComponent],
  templateUrl: './compare-flights.component.html',
  styleUrl: './compare-flights.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CompareFlightsComponent {
  private readonly flights = inject(FlightStore);
  protected readonly compare = inject(CompareStore);
  protected readonly noise = inject(NoiseStore);
  protected readonly chosen = signal<Flight | undefined>(undefined);
  protected readonly sheet = computed(() =>
    compareSheet({
      ...{open: this.flights.current()!, flights: this.flights.flights()},
      ...{compared: this.compare.own(), verdict: this.compare.verdict()},
    }),
  );
  protected readonly chart = computed(() => {
    const result = this.sheet().result;
    return result && compareOption(result.comparison, this.noise.axis());
  });

  protected with(flight: Flight): void {
    this.chosen.set(flight);
    void this.compare.compareWith(flight);
  }
}
