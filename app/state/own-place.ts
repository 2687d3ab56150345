import {Injectable, computed, inject} from '@angular/core';
import {placeOf, type SignalPlace} from '@core/controller/signal-pair';
import {fastestHz} from '@core/motor/full-throttle';
import {slowestChip} from '@core/firmware/chips';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';
import {WorkStore} from './work.store';

/** What a protocol and a loop rate have to go with on this craft, for every view that judges them. */
@Injectable({providedIn: 'root'})
export class OwnPlace {
  private readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);
  private readonly work = inject(WorkStore);

  /** Of the ESCs as found and as the plan has them, the one that hears the least. */
  readonly chip = computed(() =>
    slowestChip([
      ...(this.record.found()?.escs ?? []).map((e) => e.boot.chip),
      ...this.work.plannedEscs().map((e) => e.hardware?.chip),
    ]),
  );
  /** Undefined before the flight controller was read. */
  readonly place = computed((): SignalPlace | undefined => {
    const found = this.record.found()?.controller;
    const craft = this.fleet.current()!;
    return found && {...placeOf(found, craft.arms.length, this.chip()), fastestHz: fastestHz(craft)};
  });
}
