import {Injectable, inject} from '@angular/core';
import {serialOf} from '../bench/serial-port';
import {BenchStore} from './bench.store';
import {ChosenPort} from './chosen-port';
import {FleetStore} from './fleet.store';

/** A serial port that this page was allowed before and lost comes back: it is connected again by itself. */
@Injectable({providedIn: 'root'})
export class ReturningPort {
  private readonly bench = inject(BenchStore);
  private readonly fleet = inject(FleetStore);
  private readonly chosen = inject(ChosenPort);

  watch(): void {
    serialOf(navigator)?.addEventListener('connect', ({target}) => this.returned(target as SerialPort));
  }

  private returned(port: SerialPort): void {
    const craftId = this.fleet.currentId();
    const isLost = this.bench.status() === 'unplugged' && this.bench.problem()?.code === 'cable-out';
    if (craftId !== undefined && isLost && this.chosen.isOf(craftId, port)) void this.bench.connect(craftId);
  }
}
