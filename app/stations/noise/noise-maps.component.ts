import {ChangeDetectionStrategy, Component, computed, inject, output} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import type {TimeRange} from '@core/flight/phases';
import type {Evidence} from '@core/noise/finding';
import {mapsSheet, partOf, withEnd} from '@core/sheets/noise/noise-maps';
import {MapComponent} from '../../charts/map.component';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {FleetStore} from '../../state/fleet.store';
import {FlightStore} from '../../state/flights/flight.store';
import {NoiseStore} from '../../state/flights/noise.store';
import {MotorLinesComponent} from './motor-lines.component';

/** Where noise is: maps over throttle, time, motor speed and its multiples, motor lines, and what the flight says. */
@Component({
  selector: 'bx-noise-maps',
  imports: [FormsModule, Select, SelectButton, MapComponent, MotorLinesComponent, NumberFieldComponent],
  templateUrl: './noise-maps.component.html',
  styleUrl: './noise-maps.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NoiseMapsComponent {
  /** A finding asks for its picture. */
  readonly evidence = output<Evidence>();
  protected readonly noise = inject(NoiseStore);
  protected readonly flights = inject(FlightStore);
  private readonly fleet = inject(FleetStore);
  protected readonly sheet = computed(() =>
    mapsSheet(this.flights.current()!, {
      ...{part: this.noise.part(), shown: this.noise.shown()},
      harmonics: this.fleet.current()!.plan.controller.notchHarmonics,
    }),
  );

  protected choosePart(choice: string): void {
    this.noise.setPart(partOf(choice, this.sheet().durationS));
  }

  protected setEnd(part: TimeRange, end: keyof TimeRange, atS: number): void {
    this.noise.setPart(withEnd(part, end, atS));
  }
}
