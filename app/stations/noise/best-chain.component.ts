import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import type {FilterChain} from '@core/filters/chain';
import {noiseFromHz, rmsOfAxes} from '@core/tuning/forecast';
import {lowPassInWords, reasonsFor} from '@core/tuning/reasons';
import type {Trade} from '@core/tuning/search';
import {ProblemComponent} from '../../shared/problem.component';
import {FleetStore} from '../../state/fleet.store';
import {FlightStore} from '../../state/flight.store';
import {NoiseStore} from '../../state/noise.store';
import {TuningStore} from '../../state/tuning.store';
import {plot, type Plotted} from './trade-plot';

/** Flights beside the open one that a search takes in: the worker holds three. */
const maxOthers = 2;

/** The trade-off between delay and noise left, with what is found, planned and proposed; a point of it becomes plan edits. */
@Component({
  selector: 'bx-best-chain',
  imports: [ProblemComponent],
  templateUrl: './best-chain.component.html',
  styleUrl: './best-chain.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BestChainComponent {
  protected readonly tuning = inject(TuningStore);
  protected readonly flights = inject(FlightStore);
  protected readonly fleet = inject(FleetStore);
  private readonly noise = inject(NoiseStore);
  protected readonly plot = computed((): Plotted | undefined => {
    const trades = this.tuning.own();
    return trades.length
      ? plot(trades, {
          found: this.tuning.foundPoint(),
          planned: this.tuning.plannedPoint(),
          chosen: this.tuning.chosen(),
        })
      : undefined;
  });
  protected readonly chosen = computed(() => (this.tuning.own().length ? this.tuning.chosen() : undefined));
  protected readonly reasons = computed(() => {
    const chosen = this.chosen();
    const open = this.flights.current();
    const forecast = this.noise.planned()?.forecast;
    if (!chosen || !open || !forecast) return [];
    return reasonsFor(chosen.chain, open.summary.report, rmsOfAxes(forecast.asFlown, forecast.stepHz, noiseFromHz));
  });
  protected readonly isPlanned = computed(() => {
    const chosen = this.chosen();
    return !!chosen && inWords(chosen.chain) === inWords(this.noise.plannedChain()!);
  });
  protected readonly inWords = inWords;
  /** Other flights that the chain has to serve too, by id. */
  protected readonly also = signal<readonly string[]>([]);
  protected readonly others = computed(() =>
    this.flights.flights().filter((f) => f.id !== this.flights.current()?.flight.id),
  );

  protected take(id: string): void {
    this.also.update((ids) => (ids.includes(id) ? ids.filter((i) => i !== id) : [...ids, id].slice(-maxOthers)));
  }

  protected search(): void {
    void this.tuning.search(this.others().filter((f) => this.also().includes(f.id)));
  }

  protected pick(trade: Trade): void {
    this.tuning.choose(trade);
  }

  /** Arrow keys go along the curve, from dot to dot. */
  protected step(event: KeyboardEvent): void {
    const way = {ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1, ArrowDown: 1}[event.key];
    const dots = this.plot()?.dots ?? [];
    if (way === undefined || !dots.length) return;
    event.preventDefault();
    const at = dots.findIndex((d) => d.isChosen);
    this.tuning.choose(dots[Math.min(dots.length - 1, Math.max(0, at + way))]!.trade);
  }
}

function inWords({motor, moving, gyroLowPasses: [low]}: FilterChain): string {
  const orders = motor.orders.length
    ? `notches ${motor.orders.map((o) => `${o.order}×`).join(' ')}, Q ${motor.q}`
    : 'no motor-speed notches';
  const rest = moving.count ? `${moving.count} moving` : 'no moving notch';
  return `${orders}; ${rest}; ${low ? lowPassInWords(low) : 'no low-pass'}`;
}
