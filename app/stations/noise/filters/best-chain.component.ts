import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {chainSheet, withFlight} from '@core/sheets/noise/best-chain';
import {ProblemComponent} from '../../../shared/problem.component';
import {FlightStore} from '../../../state/flights/flight.store';
import {NoiseStore} from '../../../state/flights/noise.store';
import {TuningStore} from '../../../state/flights/tuning.store';
import {plot, type Plotted} from './trade-plot';

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
  private readonly flights = inject(FlightStore);
  private readonly noise = inject(NoiseStore);
  /** Other flights that the chain has to serve too, by id. */
  protected readonly also = signal<readonly string[]>([]);
  protected readonly sheet = computed(() => {
    const {own, chosen, over, atHz, foundPoint} = this.tuning;
    return chainSheet({
      ...{trades: own(), chosen: chosen(), over: over(), atHz: atHz(), foundPoint: foundPoint()},
      ...{open: this.flights.current(), flights: this.flights.flights()},
      ...{planned: this.noise.planned(), plannedChain: this.noise.plannedChain()},
    });
  });
  protected readonly plot = computed((): Plotted | undefined => {
    const trades = this.tuning.own();
    const {foundPoint, plannedPoint, chosen} = this.tuning;
    const marks = {found: foundPoint(), planned: plannedPoint(), chosen: chosen()};
    return trades.length ? plot(trades, marks) : undefined;
  });

  protected take(id: string): void {
    this.also.update((ids) => withFlight(ids, id));
  }

  protected search(): void {
    void this.tuning.search(this.sheet().others.filter((f) => this.also().includes(f.id)));
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
