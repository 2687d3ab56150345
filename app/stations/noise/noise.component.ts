import {ChangeDetectionStrategy, Component, computed, effect, inject, untracked} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import type {ControllerPlan} from '@core/controller/plan';
import {delayAtHz} from '@core/noise/analysis';
import {poleWords} from '@core/noise/pole-words';
import {totalDelayMs, type DelayEntry} from '@core/noise/delay-ledger';
import {ChartComponent} from '../../charts/chart.component';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {ProblemComponent} from '../../shared/problem.component';
import {FleetStore} from '../../state/fleet.store';
import {NoiseStore, type Flight} from '../../state/noise.store';
import {RecordStore} from '../../state/record.store';
import {psdOption} from './psd-option';
import {spectrogramOption} from './spectrogram-option';

const ledgerColours: Record<DelayEntry['filter'], string> = {
  'motor-speed notches': 'var(--petrol)',
  'gyro low-pass': 'var(--plum)',
  'moving notches': 'var(--ochre)',
};

/** Noise station: where motor noise lies, whether the notches sit on it, and what the filters cost. */
@Component({
  selector: 'bx-noise',
  imports: [FormsModule, NumberFieldComponent, Select, SelectButton, ChartComponent, ProblemComponent],
  templateUrl: './noise.component.html',
  styleUrl: './noise.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NoiseComponent {
  protected readonly noise = inject(NoiseStore);
  protected readonly fleet = inject(FleetStore);
  protected readonly record = inject(RecordStore);
  protected readonly colours = ledgerColours;
  protected readonly delayAt = delayAtHz;
  protected readonly axes = ['roll', 'pitch', 'yaw'].map((value) => ({label: value, value}));
  protected readonly harmonics = [1, 2, 3].map((value) => ({label: `${value}×`, value}));

  protected readonly plan = computed(() => this.fleet.current()!.plan.controller);
  protected readonly spectrogram = computed(() => {
    const analysis = this.noise.analysis();
    return analysis && spectrogramOption(analysis, this.plan().notchHarmonics);
  });
  protected readonly psd = computed(() => {
    const analysis = this.noise.analysis();
    return analysis && psdOption(analysis);
  });
  protected readonly total = computed(() => totalDelayMs(this.noise.analysis()?.planned ?? []));
  /** How much longer the filters found on the craft take than the planned ones, ms. */
  protected readonly surplus = computed(() => Math.max(0, (this.foundTotal() ?? 0) - (this.total() ?? Infinity)));
  protected readonly foundTotal = computed(() => {
    const found = this.noise.analysis()?.found;
    return found && totalDelayMs(found);
  });
  protected readonly polesVerdict = computed(() => poleWords(this.noise.analysis()?.poles, this.plan().poles));
  protected readonly noVerdict = computed(() => {
    const verdict = this.noise.analysis()?.poles;
    return verdict?.kind === 'unclear' ? verdict.why : undefined;
  });

  constructor() {
    effect(() => {
      const id = this.fleet.current()?.id;
      if (id !== undefined) untracked(() => void this.noise.openCraft(id));
    });
  }

  protected set(changes: Partial<ControllerPlan>): void {
    this.fleet.setController(changes);
  }

  protected setHarmonics(list: readonly number[]): void {
    this.set({notchHarmonics: [...list].sort((a, b) => a - b)});
  }

  protected open(flight: Flight): void {
    void this.noise.open(flight);
  }

  protected async pick(event: Event): Promise<void> {
    const field = event.target as HTMLInputElement;
    const file = field.files?.[0];
    if (file) await this.noise.openFile(file);
    field.value = '';
  }
}
