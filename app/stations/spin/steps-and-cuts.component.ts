import {ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {InputText} from 'primeng/inputtext';
import {Select} from 'primeng/select';
import type {Answer} from '@core/motion/answer';
import {comparableIn, comparedIn, type Compared} from '@core/motion/odd-motor';
import type {MotionFinding, MotorReport} from '@core/motion/report';
import {isEstimate} from '@core/motion/time-constants';
import {spinTraceCsv} from '@core/motion/write-trace';
import {causesOf, type Cause, type Cure} from '@core/spin/causes';
import {motorFromCard} from '@core/spin/use-card';
import {hasLength, raisedCaps, scriptNames, scriptPurposes, type ScriptName} from '@core/spin/script-choices';
import {reportJson} from '@core/motion/report-json';
import type {Craft} from '@core/craft/craft';
import {setOnMotors} from '@core/craft/plan-values';
import {ChartComponent} from '../../charts/chart.component';
import {HoldButtonComponent} from '../../shared/hold-button.component';
import {ProblemComponent} from '../../shared/problem.component';
import {GateComponent} from '../../shared/gate.component';
import {download} from '../../shared/download';
import {when} from '../../shared/when';
import {BenchStore} from '../../state/bench.store';
import {pickedFiles} from '../../shared/picked-files';
import {FileInbox} from '../../state/file-inbox';
import {FleetStore} from '../../state/fleet.store';
import {MotionStore} from '../../state/motion.store';
import {RecordStore} from '../../state/record.store';
import {playMotors} from '../../shared/motor-sound';
import {motionOption, motorLine} from './motion-option';
import {SuggestedIdleComponent} from './suggested-idle.component';
import {grouped} from '@core/words/grouped';

/** Throttles that a script may reach. */
const topShares = [0.1, 0.15, 0.2, 0.25, 0.3, 0.4, 0.5, 0.6, 0.8, 1];

/** A line of the table: what was measured, for every motor. */
interface MeasuredRow {
  readonly name: string;
  readonly unit: string;
  readonly cells: readonly MeasuredCell[];
}

interface MeasuredCell {
  readonly text: string;
  /** How far it may be off, or why it is not told. */
  readonly aside: string;
  readonly odd: boolean;
}

interface FindingWithCauses extends MotionFinding {
  readonly causes: readonly Cause[];
}

interface RowFormat {
  readonly key: Compared | 'friction';
  readonly name: string;
  readonly unit: string;
  readonly show: (value: number) => string;
}

const rowFormats: readonly RowFormat[] = [
  {key: 'startsAtPercent', name: 'Starts at', unit: '%', show: (v) => v.toFixed(1)},
  {key: 'spoolUpS', name: 'Up to 63 %', unit: 'ms', show: (v) => (v * 1000).toFixed(1)},
  {key: 'coastDownS', name: 'Down to 37 %', unit: 'ms', show: (v) => (v * 1000).toFixed(1)},
  {key: 'kv', name: 'KV', unit: 'rpm/V', show: (v) => v.toFixed(0)},
  {key: 'resistanceOhm', name: 'Resistance of the path', unit: 'mΩ', show: (v) => (v * 1000).toFixed(1)},
  {key: 'inertia', name: 'Inertia', unit: 'mg·m²', show: (v) => (v * 1e6).toPrecision(3)},
  {key: 'friction', name: 'Friction', unit: 'mN·m', show: (v) => (v * 1000).toPrecision(2)},
];

/** Steps and cuts: one hold turns the motors through a script; what the burst shows is fitted and compared. */
@Component({
  selector: 'bx-steps-and-cuts',
  imports: [
    FormsModule,
    InputText,
    Select,
    ChartComponent,
    HoldButtonComponent,
    ProblemComponent,
    GateComponent,
    SuggestedIdleComponent,
  ],
  templateUrl: './steps-and-cuts.component.html',
  styleUrl: './steps-and-cuts.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StepsAndCutsComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly fleet = inject(FleetStore);
  protected readonly record = inject(RecordStore);
  protected readonly motion = inject(MotionStore);
  private readonly inbox = inject(FileInbox);

  protected readonly scripts = scriptNames.map((value) => ({label: value, value}));
  protected readonly which = signal<number>(-1);
  protected readonly choices = computed(() => [
    {label: 'all motors', value: -1},
    ...this.fleet.current()!.arms.map((_, m) => ({label: `motor ${m + 1}`, value: m})),
  ]);
  protected readonly purpose = computed(() => {
    const purpose = scriptPurposes[this.motion.choice().name];
    return purpose.charAt(0).toUpperCase() + purpose.slice(1);
  });
  private readonly outputs = computed((): readonly number[] =>
    this.which() < 0 ? this.fleet.current()!.arms.map((_, m) => m) : [this.which()],
  );
  protected readonly seconds = computed(() => this.motion.seconds(this.outputs()));
  protected readonly top = computed(() => Math.min(this.motion.choice().top, this.bench.cap()));
  protected readonly tops = computed(() =>
    topShares.filter((t) => t <= this.bench.cap()).map((value) => ({label: `${Math.round(value * 100)} %`, value})),
  );
  protected readonly lengths = [2, 4, 8, 15, 30, 60].map((value) => ({label: `${value} s`, value}));
  protected readonly hasLength = hasLength;
  protected readonly caps = raisedCaps.map((value) => ({label: `${value * 100} %`, value}));
  /** The cap is being raised: what was chosen and why. */
  protected readonly raising = signal<{cap: number; reason: string} | undefined>(undefined);
  protected readonly earlierRuns = computed(() => [
    {label: 'none', value: ''},
    ...this.motion
      .listed()
      .filter((r) => r.id !== this.run()?.id && r.craftId === this.fleet.current()?.id)
      .map((r) => ({label: `${r.script}, ${when(r.at)}`, value: r.id})),
  ]);

  protected readonly running = computed(() => this.motion.share() !== undefined);
  protected readonly busy = computed(() => this.running() || this.motion.reading() !== undefined);
  protected readonly hasReplies = computed(() => !!this.record.found()?.controller?.config.replies);
  protected readonly canHold = computed(
    () =>
      this.bench.propsOff() &&
      this.hasReplies() &&
      (this.running() || (!this.bench.occupied() && this.motion.reading() === undefined && !this.bench.runningOut())),
  );

  protected readonly run = this.motion.own;

  constructor() {
    void this.motion.open();
    effect(() => {
      if (this.motion.problem() !== undefined || !this.inbox.has('trace')) return;
      const file = untracked(() => this.inbox.take('trace'));
      if (file) untracked(() => void this.motion.openFile(file));
    });
  }

  protected async pickTrace(event: Event): Promise<void> {
    const [file] = pickedFiles(event);
    if (file) await this.motion.openFile(file);
  }

  protected readonly line = motorLine;
  protected readonly motors = computed(() => this.run()?.report.motors.map((_, m) => m) ?? []);
  protected readonly source = computed(() => {
    const run = this.run();
    if (!run) return '';
    const {source, rateHz} = run;
    const rate = `${grouped(rateHz)} rows a second`;
    if (source === 'file')
      return `${run.script}, a file with ${rate}. It was not measured here, so it proves nothing of this craft.`;
    return source === 'burst'
      ? `${run.script}, ${when(run.at)}. Kept by the flight controller, ${rate}.`
      : `${run.script}, ${when(run.at)}. From reports, ${rate}: this controller keeps no bursts, so fast changes are not measured.`;
  });
  protected readonly option = computed(() => {
    const run = this.run();
    return run && motionOption(run, this.motion.earlier());
  });

  protected readonly rows = computed((): MeasuredRow[] => {
    const report = this.run()?.report;
    if (!report) return [];
    return rowFormats.map(({key, name, unit, show}) => ({
      name,
      unit,
      cells: report.motors.map((motor, m) => ({
        ...cellOf(motor[key], show),
        odd: report.oddOnes.some((o) => o.motor === m && o.what === key),
      })),
    }));
  });
  /** Reasons why something is not told, each once. */
  protected readonly reasons = computed(() => [
    ...new Set(
      this.turned().flatMap((m) => rowFormats.flatMap(({key}) => (isEstimate(m[key]) ? [] : [m[key].reason]))),
    ),
  ]);
  private readonly turned = computed((): readonly MotorReport[] => {
    const run = this.run();
    return run ? run.report.motors.filter((_, m) => run.outputs.includes(m)) : [];
  });

  protected readonly findings = computed((): FindingWithCauses[] => {
    const report = this.run()?.report;
    if (!report) return [];
    const escs = this.record.found()?.escs ?? [];
    const settings = report.motors.map((_, m) => escs.find((e) => e.output === m)?.settings?.values);
    return report.findings.map((f) => ({...f, causes: causesOf(f, {motors: report.motors, settings})}));
  });
  /** In what the motors that turned can be said to be alike; empty where too little was told. */
  protected readonly alikeIn = computed(() =>
    comparableIn(this.turned())
      .map((what) => comparedIn[what].name)
      .join(', '),
  );

  protected hold(): void {
    void this.motion.hold(this.outputs());
  }

  protected choose(name: ScriptName): void {
    this.motion.choose({name});
  }

  protected raise(): void {
    const {cap, reason} = this.raising() ?? {};
    if (cap === undefined || !reason?.trim()) return;
    this.bench.raiseCap(cap, reason.trim());
    this.raising.set(undefined);
  }

  /** Plays how the motors sounded: each motor's speed as a pitch, what it lost as a break. */
  protected listen(): void {
    const run = this.run();
    if (run) void playMotors(run.trace, run.outputs);
  }

  /** Whether the plan has the cure already: then the work order is what is missing. */
  protected isPlanned(motor: number, {key, value}: Cure): boolean {
    const planned = this.fleet.current()!.plan.parameters[key];
    return planned?.kind === 'same'
      ? planned.value === value
      : planned?.kind === 'per motor' && planned.values[motor] === value;
  }

  protected plan(motor: number, {key, value}: Cure): void {
    const craft = this.fleet.current()!;
    const held = craft.arms.map((_, o) => this.record.found()?.escs.find((e) => e.output === o)?.settings?.values[key]);
    this.fleet.setParameter(key, setOnMotors(craft.plan.parameters[key], {held, motors: [motor], value}));
  }

  /** The craft's motor with what was measured; undefined where too little was told. */
  protected readonly measuredMotor = computed(() => {
    const run = this.run();
    return run && run.source !== 'file' && motorFromCard(this.fleet.current()!.motor, this.turned(), run.at);
  });
  protected readonly inUse = computed(() => this.run() && this.fleet.current()!.motor.measured?.at === this.run()!.at);
  protected readonly when = when;
  protected readonly idle = this.motion.idle;

  protected use(motor: Craft['motor']): void {
    this.fleet.edit((craft) => ({...craft, motor}));
  }

  protected save(): void {
    const run = this.run()!;
    download(`${this.fileName(run.script)}.csv`, spinTraceCsv(run.trace), 'text/csv');
  }

  protected saveJson(): void {
    const run = this.run()!;
    const text = JSON.stringify(reportJson(run.report, run.trace.notes), null, 1);
    download(`${this.fileName(run.script)}.json`, text, 'application/json');
  }

  private fileName(script: string): string {
    return `${this.fleet.current()!.name} ${script}`.toLowerCase().replaceAll(' ', '-');
  }
}

function cellOf(answer: Answer, show: (value: number) => string): Omit<MeasuredCell, 'odd'> {
  if (isEstimate(answer)) return {text: show(answer.value), aside: `± ${show((answer.high - answer.low) / 2)}`};
  if (answer.atLeast !== undefined) return {text: `> ${show(answer.atLeast)}`, aside: answer.reason};
  return {text: '–', aside: answer.reason};
}
