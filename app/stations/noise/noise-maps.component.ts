import {ChangeDetectionStrategy, Component, computed, inject, output} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import {flightPhases, type TimeRange} from '@core/flight/phases';
import type {Evidence, Finding} from '@core/noise/finding';
import {aliasWords, certaintyOf} from './map-words';
import {poleWords} from '@core/noise/pole-words';
import {MapComponent, type MapLine} from '../../charts/map.component';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {FleetStore} from '../../state/fleet.store';
import {FlightStore} from '../../state/flight.store';
import {NoiseStore, type Part, type ShownMap} from '../../state/noise.store';
import type {MapKind} from '../../workers/noise-maps';
import {MotorLinesComponent} from './motor-lines.component';

const shownHz = 1000;
const shownOrders = 6;
const dashes: readonly (readonly number[])[] = [[], [6, 3], [2, 3], [1, 4]];

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
  protected readonly kinds = computed((): {label: string; value: MapKind}[] => {
    const summary = this.flights.current()?.summary;
    return [
      ...(summary?.hasThrottle ? [{label: 'throttle', value: 'throttle' as const}] : []),
      {label: 'time', value: 'time'},
      ...(summary?.motors
        ? [
            {label: 'speed', value: 'speed' as const},
            {label: 'orders', value: 'order' as const},
          ]
        : []),
    ];
  });
  protected readonly motors = computed(() =>
    Array.from({length: this.flights.current()?.summary.motors ?? 0}, (_, i) => ({label: `motor ${i + 1}`, value: i})),
  );
  protected readonly parts = computed((): {label: string; value: string}[] => {
    const phases = this.flights.current()?.summary.phases;
    const flown = phases ? flightPhases.filter((p) => phases[p].length) : [];
    return [
      {label: 'whole flight', value: 'all'},
      ...flown.map((p) => ({label: p, value: p})),
      {label: 'by hand', value: 'hand'},
    ];
  });
  /** The part chosen by hand. */
  protected readonly byHand = computed(() => {
    const part = this.noise.part();
    return typeof part === 'object' ? part : undefined;
  });
  protected readonly mostX = computed(() => {
    const shown = this.noise.shown();
    if (!shown) return shownHz;
    if (shown.kind === 'order') return shownOrders;
    return Math.min(shownHz, (shown.map.columns - 1) * shown.map.stepX);
  });
  protected readonly names = computed(() => axisNames[this.noise.shown()?.kind ?? 'throttle']);
  protected readonly lines = computed((): MapLine[] => {
    const shown = this.noise.shown();
    return shown ? linesOf(shown, this.fleet.current()!.plan.controller.notchHarmonics) : [];
  });
  /** How sure the picture is, and what in it comes from beyond half the log's rate. */
  protected readonly notes = computed((): string[] => {
    const {sampleRateHz, report} = this.flights.current()!.summary;
    const certainty = certaintyOf(this.noise.shown());
    return [...(certainty ? [certainty] : []), ...report.aliases.map((line) => aliasWords(line, sampleRateHz))];
  });
  protected readonly report = computed(() => this.flights.current()!.summary.report);
  protected readonly findings = computed((): readonly Finding[] => together(this.report().findings));
  protected readonly poles = computed(() => {
    const {poles, loggedPoles} = this.report();
    return poleWords(poles, loggedPoles);
  });
  protected readonly noVerdict = computed(() => {
    const {poles} = this.report();
    return poles.kind === 'unclear' ? poles.why : '';
  });
  protected readonly words: Readonly<Record<Finding['kind'], string>> = {
    'wrong-poles': 'Wrong pole count',
    unbalanced: 'Bent bell or unbalanced propeller',
    'long-coast': 'Falls late after a cut',
    loose: 'Something is loose',
    resonance: 'Resonance',
    electrical: 'A tone that no part makes',
    'reply-loss': 'Replies lost',
    jitter: 'Time stamps jitter',
    'missing-rows': 'Rows missing',
    clipped: 'Gyro at the end of its range',
    aliased: 'Lines beyond half the log’s rate',
    desync: 'Lost its step',
  };

  protected choosePart(value: string): void {
    const {durationS} = this.flights.current()!.summary;
    this.noise.setPart(value === 'hand' ? {fromS: 0, toS: durationS} : (value as Exclude<Part, TimeRange>));
  }

  /** A part of at least a second: a spectrum needs some moments. */
  protected setEnd(end: 'fromS' | 'toS', value: number): void {
    const part = {...this.byHand()!, [end]: value};
    if (part.toS - part.fromS >= 1) this.noise.setPart(part);
  }
}

const axisNames: Readonly<Record<MapKind, {x: string; xUnit: string; y: string; yUnit: string}>> = {
  throttle: {x: 'frequency, Hz; throttle in % upward', xUnit: 'Hz', y: 'throttle', yUnit: '% throttle'},
  time: {x: 'frequency, Hz; time in s upward', xUnit: 'Hz', y: 'time', yUnit: 's'},
  speed: {x: 'frequency, Hz; revolutions per second upward', xUnit: 'Hz', y: 'speed', yUnit: 'rev/s'},
  order: {x: 'multiples of motor speed; revolutions per second upward', xUnit: '×', y: 'speed', yUnit: 'rev/s'},
};

/** Multiples of the motor's speed over the map: what the planned notches follow, or all three where none is planned. */
function linesOf({map, curves, kind, motor}: ShownMap, harmonics: readonly number[]): MapLine[] {
  if (kind === 'order') return [];
  const curve = curves[motor];
  if (!curve) return [];
  const orders = harmonics.length ? harmonics : [1, 2, 3];
  return orders.map((order, i) => ({
    label: `${order}×`,
    dash: dashes[i % dashes.length]!,
    points: [...curve.hz].map((hz, row) => [hz * order, map.from + (row + 0.5) * map.stepY] as const),
  }));
}

/** The same resonance on several axes is one. */
function together(findings: readonly Finding[]): Finding[] {
  const shown: Finding[] = [];
  for (const f of findings) {
    const hz = f.kind === 'resonance' ? Number(/at (\d+) Hz/.exec(f.text)?.[1]) : NaN;
    const same = shown.some(
      (s) => s.kind === 'resonance' && Math.abs(Number(/at (\d+) Hz/.exec(s.text)?.[1]) - hz) < 8,
    );
    if (!same) shown.push(f);
  }
  return shown;
}
