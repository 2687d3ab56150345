import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {notedChanges, type NotedChange} from '@core/flight/noted';
import type {Change} from '@core/noise/compare-flights';
import {ChartComponent} from '../../charts/chart.component';
import {CompareStore} from '../../state/compare.store';
import type {Flight} from '../../state/demo-flights';
import {FlightStore} from '../../state/flight.store';
import {NoiseStore} from '../../state/noise.store';
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
  protected readonly flights = inject(FlightStore);
  protected readonly compare = inject(CompareStore);
  protected readonly noise = inject(NoiseStore);
  protected readonly chosen = signal<Flight | undefined>(undefined);
  protected readonly others = computed(() =>
    this.flights.flights().filter((f) => f.id !== this.flights.current()?.flight.id),
  );
  protected readonly result = computed(() => {
    const comparison = this.compare.own()?.comparison;
    return comparison?.kind === 'compared' ? comparison : undefined;
  });
  protected readonly refused = computed(() => {
    const comparison = this.compare.own()?.comparison;
    return comparison?.kind === 'not comparable' ? comparison.why : undefined;
  });
  protected readonly chart = computed(() => {
    const result = this.result();
    return result && compareOption(result, this.noise.axis());
  });

  /** What a person measured on both, as the flights are noted now. */
  protected readonly noted = computed(() => {
    const compared = this.compare.own();
    const of = (flight: Flight | undefined) => this.flights.flights().find((f) => f.id === flight?.id)?.noted;
    return compared ? notedChanges(of(compared.before), of(compared.after)) : [];
  });
  protected difference({before, after}: NotedChange): string {
    return Math.abs(after - before).toFixed(1);
  }

  protected with(flight: Flight): void {
    this.chosen.set(flight);
    void this.compare.compareWith(flight);
  }

  protected words(change: Change | undefined): string {
    if (!change) return 'no estimate';
    const sign = change.db >= 0 ? '−' : '+';
    return `${sign}${Math.abs(change.db).toFixed(1)} ± ${change.bound.toFixed(1)}`;
  }

  /** Louder for sure, quieter for sure, or neither. */
  protected way(change: Change | undefined): 'down' | 'up' | '' {
    if (!change) return '';
    return change.db - change.bound > 0 ? 'down' : change.db + change.bound < 0 ? 'up' : '';
  }
}
