import {ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {completed, type Role} from '@core/flight/guess-columns';
import {axes, gyroUnits, speedUnits, throttleUnits, timeUnits, type Mapping} from '@core/flight/mapping';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {FlightStore, type WaitingFile} from '../../state/flight.store';

type Choice =
  | 'nothing'
  | 'time'
  | 'throttle'
  | 'volts'
  | 'amps'
  | `gyro ${number}`
  | `filtered ${number}`
  | `setpoint ${number}`
  | 'speed'
  | 'command'
  | 'errors';
const choices: readonly {label: string; value: Choice}[] = [
  {label: 'skip', value: 'nothing'},
  {label: 'time', value: 'time'},
  ...axes.map((axis, a) => ({label: `gyro ${axis}`, value: `gyro ${a}` as const})),
  ...axes.map((axis, a) => ({label: `gyro ${axis}, filtered`, value: `filtered ${a}` as const})),
  ...axes.map((axis, a) => ({label: `setpoint ${axis}`, value: `setpoint ${a}` as const})),
  {label: 'throttle', value: 'throttle'},
  {label: 'speed of a motor', value: 'speed'},
  {label: 'throttle of a motor', value: 'command'},
  {label: 'lost replies', value: 'errors'},
  {label: 'volts', value: 'volts'},
  {label: 'amps', value: 'amps'},
];

/** Asks what each column of a log holds, and in which unit; what could be guessed is filled in. */
@Component({
  selector: 'bx-column-mapper',
  imports: [FormsModule, Select, NumberFieldComponent],
  templateUrl: './column-mapper.component.html',
  styleUrl: './column-mapper.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ColumnMapperComponent {
  readonly waiting = input.required<WaitingFile>();
  protected readonly flights = inject(FlightStore);
  protected readonly choices = [...choices];
  protected readonly head = computed(() => this.waiting().table.head);
  /** What each column is taken for. */
  protected readonly taken = linkedSignal((): readonly Choice[] => guessed(this.waiting()));
  private readonly found = computed(() => foundIn(this.taken()));
  private readonly draft = computed(() => completed(this.head(), this.found()));
  protected readonly changes = linkedSignal<WaitingFile, Partial<Mapping>>({
    source: this.waiting,
    computation: ({kept}) => (kept ? unitsOf(kept.mapping) : {}),
  });
  protected readonly mapping = computed((): Mapping | undefined => {
    const {mapping} = this.draft();
    return mapping && {...mapping, ...this.changes()};
  });
  /** Units of what the table has. */
  protected readonly unitChoices = computed(() => {
    const m = this.mapping();
    if (!m) return [];
    const all = [
      {field: 'timeUnit', name: 'Time in', options: [...timeUnits], isThere: true},
      {field: 'gyroUnit', name: 'Gyro in', options: [...gyroUnits], isThere: true},
      {field: 'throttleUnit', name: 'Throttle in', options: [...throttleUnits], isThere: m.throttle !== undefined},
      {field: 'speedUnit', name: 'Speeds in', options: [...speedUnits], isThere: m.speeds.length > 0},
    ] as const;
    return all
      .filter((u) => u.isThere)
      .map(({field, name, options}) => ({field, name, options: [...options] as string[], value: m[field]}));
  });
  protected readonly questions = computed(() => this.draft().questions);
  protected readonly missing = computed(() => {
    const {time, gyro} = this.found();
    return [
      ...(time.length ? [] : ['time']),
      ...axes.filter((_, a) => gyro[a] === undefined).map((axis) => `gyro ${axis}`),
    ];
  });
  protected readonly rows = computed(() =>
    this.head().names.map((name, column) => {
      const values = [...this.head().sample[column]!].filter((v) => !Number.isNaN(v));
      const first = values.slice(0, 4).map((v) => String(Number(v.toPrecision(6))));
      return {
        name,
        column,
        first: first.join('  '),
        range: values.length ? `${short(Math.min(...values))} … ${short(Math.max(...values))}` : 'no numbers',
      };
    }),
  );

  protected take(column: number, choice: Choice): void {
    const isList = choice === 'nothing' || choice === 'speed' || choice === 'command' || choice === 'errors';
    this.taken.update((all) => all.map((c, i) => (i === column ? choice : !isList && c === choice ? 'nothing' : c)));
  }

  protected change(changes: Partial<Mapping>): void {
    this.changes.update((all) => ({...all, ...changes}));
  }

  protected setUnit(field: 'timeUnit' | 'gyroUnit' | 'throttleUnit' | 'speedUnit', unit: string): void {
    this.change({[field]: unit});
  }

  protected turn(axis: number): void {
    const signs = [...(this.mapping()?.gyroSigns ?? [1, 1, 1])] as [number, number, number];
    signs[axis] = -signs[axis]!;
    this.change({gyroSigns: signs});
  }

  protected read(): void {
    const mapping = this.mapping();
    if (mapping) void this.flights.mapAs(mapping);
  }
}

const short = (v: number) => String(Number(v.toPrecision(5)));

/** What is not said by the columns themselves. */
const unitsOf = ({
  timeUnit,
  gyroUnit,
  gyroScale,
  gyroSigns,
  throttleUnit,
  speedUnit,
  speedScale,
}: Mapping): Partial<Mapping> => ({
  ...{timeUnit, gyroUnit, gyroScale, gyroSigns, throttleUnit, speedUnit, speedScale},
});

function guessed({table, kept}: WaitingFile): Choice[] {
  const found = kept ? columnsIn(kept.mapping) : table.guess.found;
  const of = (column: number): Choice => {
    const single = (['time', 'throttle', 'volts', 'amps'] as const).find((role) => found[role].includes(column));
    if (single) return single;
    if (found.gyro.includes(column)) return `gyro ${found.gyro.indexOf(column)}`;
    if (found.filteredGyro.includes(column)) return `filtered ${found.filteredGyro.indexOf(column)}`;
    if (found.setpoint.includes(column)) return `setpoint ${found.setpoint.indexOf(column)}`;
    if (found.speeds.includes(column)) return 'speed';
    if (found.commands.includes(column)) return 'command';
    return found.replyErrors.includes(column) ? 'errors' : 'nothing';
  };
  return table.head.names.map((_, column) => of(column));
}

function columnsIn(m: Mapping): Record<Role, readonly number[]> {
  const one = (column: number | undefined) => (column === undefined ? [] : [column]);
  return {
    time: [m.time],
    gyro: m.gyro,
    filteredGyro: m.filteredGyro ?? [],
    setpoint: m.setpoint ?? [],
    throttle: one(m.throttle),
    speeds: m.speeds,
    commands: m.commands,
    replyErrors: m.replyErrors,
    volts: one(m.volts),
    amps: one(m.amps),
  };
}

function foundIn(taken: readonly Choice[]): Record<Role, readonly number[]> {
  const all = (choice: Choice) => taken.flatMap((c, i) => (c === choice ? [i] : []));
  const three = (prefix: 'gyro' | 'filtered' | 'setpoint') => {
    const columns = axes.map((_, a) => all(`${prefix} ${a}`)[0]);
    return columns.every((c) => c !== undefined) ? columns : [];
  };
  return {
    time: all('time'),
    gyro: three('gyro'),
    filteredGyro: three('filtered'),
    setpoint: three('setpoint'),
    throttle: all('throttle'),
    speeds: all('speed'),
    commands: all('command'),
    replyErrors: all('errors'),
    volts: all('volts'),
    amps: all('amps'),
  };
}
