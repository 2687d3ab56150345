import {ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import type {Flight} from '@core/flight/flight';
import type {Evidence} from '@core/noise/finding';
import {axisChoices, mapOf, noiseLead, noiseViews, type NoiseView} from '@core/sheets/noise/noise';
import {ProblemComponent} from '../../shared/problem.component';
import {pickedFiles} from '../../shared/picked-files';
import {FileInbox} from '../../state/file-inbox';
import {FleetStore} from '../../state/fleet.store';
import {FlightStore} from '../../state/flights/flight.store';
import {NoiseStore} from '../../state/flights/noise.store';
import {StandInStore} from '../../state/stand-in.store';
import {BestChainComponent} from './filters/best-chain.component';
import {ColumnMapperComponent} from './column-mapper.component';
import {CompareFlightsComponent} from './compare-flights.component';
import {FiltersViewComponent} from './filters/filters-view.component';
import {LogNotesComponent} from './log-notes.component';
import {NoiseMapsComponent} from './noise-maps.component';
import {UnitQuestionsComponent} from './unit-questions.component';

/** Noise station: where noise is, what the filters do to it and cost, the best chain, and the proof by two flights. */
@Component({
  selector: 'bx-noise',
  imports: [
    FormsModule,
    Select,
    SelectButton,
    ProblemComponent,
    BestChainComponent,
    ColumnMapperComponent,
    CompareFlightsComponent,
    FiltersViewComponent,
    LogNotesComponent,
    NoiseMapsComponent,
    UnitQuestionsComponent,
  ],
  templateUrl: './noise.component.html',
  styleUrl: './noise.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NoiseComponent {
  protected readonly flights = inject(FlightStore);
  private readonly inbox = inject(FileInbox);
  protected readonly noise = inject(NoiseStore);
  protected readonly fleet = inject(FleetStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly view = signal<NoiseView>('noise');
  protected readonly views = [...noiseViews];
  protected readonly axes = [...axisChoices];
  protected readonly lead = computed(() => noiseLead(this.flights.current()));

  /** Where a finding shows itself. */
  protected show(evidence: Evidence): void {
    const kind = mapOf(evidence);
    if (kind) this.noise.setKind(kind);
    this.view.set('noise');
  }

  constructor() {
    effect(() => {
      const id = this.fleet.current()?.id;
      if (id !== undefined) untracked(() => void this.flights.openCraft(id));
    });
    effect(() => {
      const {busy, waiting, problem, craftId} = this.flights;
      const isFree = busy() === undefined && waiting() === undefined && problem() === undefined;
      const isHere = craftId() !== undefined && craftId() === this.fleet.current()?.id;
      if (isFree && isHere && this.inbox.has('flight log')) untracked(() => this.takeNext());
    });
  }

  /** Logs that were dropped or picked come one after the other: the next one when nothing of the last is open to answer. */
  private takeNext(): void {
    const file = this.inbox.take('flight log');
    if (file) void this.flights.openFile(file);
  }

  protected open(flight: Flight): void {
    void this.flights.open(flight);
  }

  protected async pick(event: Event): Promise<void> {
    const files = pickedFiles(event);
    for (const file of files) await this.flights.openFile(file);
  }
}
