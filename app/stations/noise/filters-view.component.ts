import {gainText} from '@core/tuning/predicted-gain';
import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {budgetWith} from '@core/controller/budget-of';
import {sectionsPerAxis} from '@core/filters/chain';
import {phaseLagDeg, totalDelayMs, type FilterName} from '@core/filters/delay-ledger';
import {axes} from '@core/flight/mapping';
import {decibelBounds} from '@core/spectra/welch';
import {bands, rmsBetween} from '@core/tuning/forecast';
import {ChartComponent} from '../../charts/chart.component';
import {FleetStore} from '../../state/fleet.store';
import {FlightStore} from '../../state/flight.store';
import {NoiseStore} from '../../state/noise.store';
import {RecordStore} from '../../state/record.store';
import {FilterFormComponent} from './filter-form.component';
import {delayOption, spectraOption, windowOption} from './filter-charts';

const ledgerColours: Record<FilterName, string> = {
  'motor-speed notches': 'var(--petrol)',
  'moving notches': 'var(--ochre)',
  'gyro low-pass': 'var(--plum)',
  'D low-pass': 'var(--ink-3)',
};

/** The planned filters, what they would leave of the flight, and what they cost in time. */
@Component({
  selector: 'bx-filters-view',
  imports: [ChartComponent, FilterFormComponent],
  templateUrl: './filters-view.component.html',
  styleUrl: './filters-view.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FiltersViewComponent {
  protected readonly gainText = gainText;
  protected readonly noise = inject(NoiseStore);
  protected readonly flights = inject(FlightStore);
  protected readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);
  protected readonly colours = ledgerColours;
  protected readonly atHz = computed(() => this.noise.crossoverHz());
  protected readonly crossover = computed(() => this.flights.current()?.summary.report.crossover);
  /** How sure the spectra are, 19 of 20 times, dB. */
  protected readonly certainty = computed(() => {
    const forecast = this.noise.planned()?.forecast;
    return forecast && {stepHz: forecast.stepHz, moments: forecast.segments, ...decibelBounds(forecast.segments)};
  });
  private readonly axisIndex = computed(() => axes.indexOf(this.noise.axis()));
  protected readonly spectra = computed(() => {
    const planned = this.noise.planned();
    return planned && spectraOption(planned.forecast, this.axisIndex());
  });
  protected readonly delays = computed(() => {
    const planned = this.noise.planned();
    return planned && delayOption(planned.curve, this.noise.found()?.curve, this.atHz());
  });
  protected readonly window = computed(() => {
    const window = this.noise.window();
    return window && windowOption(window, this.axisIndex());
  });
  protected readonly ledger = computed(
    () => this.noise.planned()?.ledger.filter((e) => e.filter !== 'D low-pass') ?? [],
  );
  protected readonly total = computed(() => totalDelayMs(this.noise.planned()?.ledger ?? []));
  protected readonly foundTotal = computed(() => {
    const found = this.noise.found();
    return found && totalDelayMs(found.ledger);
  });
  protected readonly lag = computed(() => {
    const total = this.total();
    return total === undefined ? undefined : phaseLagDeg(total, this.atHz());
  });
  /** How much longer the filters found on the craft take than the planned ones, ms. */
  protected readonly surplus = computed(() => Math.max(0, (this.foundTotal() ?? 0) - (this.total() ?? Infinity)));
  /** Load of the gyro task with the planned filters; undefined before the controller was read. */
  protected readonly load = computed(() => {
    const clockMhz = this.record.found()?.controller?.identity.clockMhz;
    const chain = this.noise.plannedChain();
    if (!clockMhz || !chain) return undefined;
    const outputs = this.fleet.current()!.arms.length;
    return budgetWith(this.fleet.current()!.plan.controller, sectionsPerAxis(chain, outputs), {clockMhz, outputs}).load;
  });
  /** What is left by band, deg/s of gyro and thousands of deg/s² of its derivative. */
  protected readonly rows = computed(() => {
    const forecast = this.noise.planned()?.forecast;
    if (!forecast) return [];
    const {stepHz, asFlown, left, dLeft, dAsFlown} = forecast;
    const [a, top] = [this.axisIndex(), (asFlown[0]!.length - 1) * stepHz];
    return bands
      .filter(([from]) => from < top)
      .map(([from, to]) => ({
        name: `${from}–${Math.round(Math.min(to, top))} Hz`,
        was: rmsBetween(asFlown[a]!, stepHz, from, to),
        left: rmsBetween(left[a]!, stepHz, from, to),
        dWas: rmsBetween(dAsFlown[a]!, stepHz, from, to) / 1000,
        dLeft: rmsBetween(dLeft[a]!, stepHz, from, to) / 1000,
      }));
  });
}
