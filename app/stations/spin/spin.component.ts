import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import {wantedSenses} from '@core/craft/craft';
import {isDigital} from '@core/dshot/protocol';
import {ProblemError, type Problem} from '@core/problem';
import {pulseUs, type SpeedSample} from '@core/spin/speed-sample';
import {pulseTop} from '@core/spin/pulse-pattern';
import {startScatter} from '@core/spin/start-scatter';
import {twoSides} from '@core/spin/two-sides';
import {whatIsWrong} from '@core/spin/what-is-wrong';
import {HoldSession, type HoldTrace} from '@core/spin/hold-session';
import {adviceOn, unexpectedKinds, type Advice, type UnexpectedKind} from '@core/spin/unexpected';
import {setOnMotors} from '@core/craft/plan-values';
import {
  groundsOfSighting,
  type SightingQuestion,
  nextOutput,
  planFromSighting,
  sightingHolds,
  sightingRows,
  type Sighting,
} from '@core/spin/sighting';
import {ChartComponent, sheetAxis, sheetColours} from '../../charts/chart.component';
import {ConnectComponent} from '../../shared/connect.component';
import {CraftDrawingComponent, type ArmAnswer, type DrawnArm} from '../../shared/craft-drawing.component';
import {HoldButtonComponent} from '../../shared/hold-button.component';
import {ProblemComponent} from '../../shared/problem.component';
import {GateComponent} from '../../shared/gate.component';
import {BenchStore} from '../../state/bench.store';
import {FileInbox} from '../../state/file-inbox';
import {FleetStore} from '../../state/fleet.store';
import {CLOCK, every, forTheEye} from '../../bench/clock';
import {StandInStore} from '../../state/stand-in.store';
import {MotionStore} from '../../state/motion.store';
import {RecordStore} from '../../state/record.store';
import {MixerComponent} from './mixer.component';
import {SoundsViewComponent} from './sounds-view.component';
import {SuggestedIdleComponent} from './suggested-idle.component';
import {ThrottleRangeComponent} from './throttle-range.component';
import {StepsAndCutsComponent} from './steps-and-cuts.component';
import type {TurningOutput} from '../../workers/bench-control';

/** What the station shows. */
type View = 'point' | 'steps' | 'range' | 'mixer' | 'sounds';
const leads: Readonly<Record<View, string>> = {
  point:
    'One output at a time. Hold to turn it, then point at what moved. Order and rotation follow from what you saw.',
  steps: 'One hold, a few seconds. How every motor starts, rises and falls, what it is made of, and which one is odd.',
  range: 'Which pulses each ESC takes for none and for full throttle, and how to set them all alike.',
  sounds: 'What the motors say after power-up, how loud, and how a lost craft calls.',
  mixer: 'What each motor must do for roll, pitch and yaw, from the arms of this craft and the way each turns.',
};

/** How often the trace and what eyes see are shown anew, ms. */
const lookEveryMs = 100;
/** A pulse turns a motor for longer, ms: eyes that look this often see each of them, on whatever clock. */
const pulseMs = 500;

/** Spin station: hold to turn one output, point at what moved; order and rotation follow. */
@Component({
  selector: 'bx-spin',
  imports: [
    FormsModule,
    SelectButton,
    ChartComponent,
    MixerComponent,
    StepsAndCutsComponent,
    ConnectComponent,
    CraftDrawingComponent,
    HoldButtonComponent,
    ProblemComponent,
    GateComponent,
    SoundsViewComponent,
    SuggestedIdleComponent,
    ThrottleRangeComponent,
  ],
  host: {'(document:keydown.t)': 'itTurns()'},
  templateUrl: './spin.component.html',
  styleUrl: './spin.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SpinComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  private readonly clock = inject(CLOCK);
  protected readonly fleet = inject(FleetStore);
  protected readonly record = inject(RecordStore);

  protected readonly leads = leads;
  protected readonly views: {label: string; value: View}[] = [
    {label: 'Motor order', value: 'point'},
    {label: 'Steps and cuts', value: 'steps'},
    {label: 'Throttle range', value: 'range'},
    {label: 'Mixer', value: 'mixer'},
    {label: 'Sounds', value: 'sounds'},
  ];
  protected readonly view = signal<View>('point');
  private readonly inbox = inject(FileInbox);

  /** What sightings are held against. */
  private readonly asked = computed((): SightingQuestion => ({
    ...{craft: this.fleet.current()!, found: this.record.found(), replaced: this.record.replaced()},
  }));
  protected readonly output = signal(this.nextOutput());
  protected readonly throttle = signal(0);
  protected readonly held = signal(false);
  /** The output has turned and its answer is open. */
  protected readonly asking = signal(false);
  protected readonly seenTurning = signal<readonly TurningOutput[] | undefined>(undefined);
  /** Why the last hold ended, where it was not just let go. */
  protected readonly problem = signal<Problem | undefined>(undefined);
  protected readonly traces = signal<Readonly<Record<number, readonly SpeedSample[]>>>({});

  /** What to try, where something else was seen than one motor that turns. */
  protected readonly advice = signal<(Advice & {output: number; kind: UnexpectedKind}) | undefined>(undefined);
  protected readonly unexpectedKinds = unexpectedKinds;

  private session: HoldSession | undefined;
  private measured: HoldTrace | undefined;

  protected readonly senses = computed(() => wantedSenses(this.fleet.current()!));
  protected readonly canHold = computed(
    () => this.bench.propsOff() && !!this.record.found() && !this.bench.occupied() && !this.bench.runningOut(),
  );
  protected readonly poles = computed(() => this.fleet.current()!.motor.poles);

  protected readonly drawn = computed((): DrawnArm[] => {
    const craft = this.fleet.current()!;
    return craft.arms.map((_, arm) => {
      const sighting = this.record.sightings().find((s) => s.arm === arm);
      const label = sighting ? String(sighting.output + 1) : '?';
      if (this.asking()) return {sense: sighting?.sense, label, state: 'asked'};
      if (!sighting) return {sense: this.senses()[arm], label, state: 'open'};
      return {
        sense: sighting.sense,
        label,
        state: sightingHolds(sighting, this.asked()) ? 'ok' : 'diff',
      };
    });
  });

  protected readonly rows = computed(() => {
    const craft = this.fleet.current()!;
    return sightingRows(this.asked(), this.record.sightings()).map((row) => ({
      ...row,
      arm: row.seen && craft.arms[row.seen.arm]?.name,
    }));
  });
  protected readonly wrongs = computed(() =>
    this.rows().flatMap(({seen, changes, output}) =>
      seen && !changes.length
        ? whatIsWrong(this.fleet.current()!, this.record.found(), seen).map((w) => ({...w, output}))
        : [],
    ),
  );

  protected readonly idle = inject(MotionStore).idle;
  /** With pulses ESCs start later: their low end lies above 1000 µs. */
  protected readonly isPulse = computed(
    () => !isDigital(this.record.found()?.controller?.config.protocol ?? 'dshot300'),
  );
  protected readonly top = computed(() => (this.isPulse() ? pulseTop.analog : pulseTop.digital));
  protected readonly repliesOn = computed(() => !!this.record.found()?.controller?.config.replies);
  protected readonly sides = computed(() => twoSides(this.asked(), this.record.sightings()));
  /** Starts that this hold has seen so far. */
  protected readonly startsSeen = signal<readonly number[]>([]);
  protected readonly scatter = startScatter;

  protected readonly chart = computed(() => {
    const colours = sheetColours();
    const own = this.output();
    const traces = this.traces();
    return {
      animation: false,
      grid: {left: 44, right: 10, top: 24, bottom: 22},
      xAxis: sheetAxis(colours, '', {
        min: 0,
        max: 6,
        axisLabel: {color: colours.ink3, fontSize: 10, formatter: '{value} s'},
        splitLine: {show: false},
      }),
      yAxis: sheetAxis(colours, 'rpm', {
        min: 0,
        nameGap: 9,
        nameTextStyle: {align: 'right', color: colours.ink2, fontSize: 11},
      }),
      series: Object.entries(traces).map(([output, samples]) => ({
        type: 'line',
        showSymbol: false,
        data: samples.map((s) => [s.atS, s.rpm]),
        lineStyle:
          Number(output) === own ? {color: colours.petrol, width: 2} : {color: colours.ink3, width: 1, type: 'dashed'},
      })),
    };
  });

  constructor() {
    // A trace or a melody that was dropped is opened where it belongs.
    effect(() => {
      const kind = this.inbox.wanted()?.kind;
      if ((kind !== 'trace' && kind !== 'melody') || !untracked(() => this.inbox.has(kind))) return;
      untracked(() => this.turnTo(kind === 'trace' ? 'steps' : 'sounds'));
    });
    void inject(MotionStore).open();
    const endLooking = every(this.clock, Math.min(forTheEye(this.clock, lookEveryMs), pulseMs), () => void this.look());
    inject(DestroyRef).onDestroy(() => {
      endLooking();
      this.session?.end();
    });
  }

  /** A coast-down as reports can tell it: they come every 20 ms, and what is quicker is only known to be quick. */
  protected readonly coast = (seconds: number | undefined): string =>
    seconds === undefined ? '–' : seconds < 0.05 ? 'under 0.05 s' : `${seconds.toFixed(2)} s`;

  /** Another view: what was held here ends. */
  protected turnTo(view: View): void {
    this.session?.end();
    this.asking.set(false);
    this.view.set(view);
  }

  protected readonly pulse = pulseUs;
  protected readonly anythingMoves = computed(() => this.seenTurning()?.some((s) => s.turning || s.smoke) ?? true);

  protected hold(): void {
    if (this.session?.isHeld || !this.canHold()) return;
    this.session?.end();
    this.problem.set(undefined);
    this.advice.set(undefined);
    try {
      const {bench} = this;
      this.session = new HoldSession(this.output(), {
        client: bench.requireClient(),
        clock: this.clock,
        poles: this.poles(),
        onReport: (listener) => bench.onReport(listener),
        beginHold: (end) => bench.beginHold(end, 'hold'),
        top: this.top(),
        onThrottle: (throttle) => this.throttle.set(throttle),
        onEnd: (why) => {
          this.held.set(false);
          if (why) this.problem.set(why);
        },
        onDone: (trace) => this.keep(trace),
      });
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      return this.problem.set(error.problem);
    }
    this.held.set(true);
    this.asking.set(true);
    this.measured = undefined;
    this.startsSeen.set([]);
    this.show(this.session.trace());
  }

  /** Where no speed comes, a person says when it turns. */
  protected itTurns(): void {
    if (this.session?.itTurns() !== undefined) this.startsSeen.set(this.session.trace().startsUs);
  }

  protected letGo(): void {
    this.session?.letGo();
  }

  private show({output, samples, startsUs}: HoldTrace): void {
    this.traces.update((t) => ({...t, [output]: samples}));
    this.startsSeen.set(startsUs);
  }

  /** A trace that is complete. One that was answered while the motor still coasted brings its coast-down after. */
  private keep(trace: HoldTrace): void {
    const {output} = trace;
    this.measured = trace;
    this.show(trace);
    const seen = this.record.sightings().find((s) => s.output === output && s.coastDownS === undefined);
    if (seen && !(this.asking() && this.output() === output)) this.record.addSighting({...seen, ...measuredIn(trace)});
  }

  protected answer({arm, sense}: ArmAnswer): void {
    const output = this.output();
    this.letGo();
    const craft = this.fleet.current()!;
    const found = this.record.found();
    const rotationSetting = found?.escs.find((e) => e.output === output)?.settings?.values.rotation;
    const trace = this.measured ?? this.session?.trace();
    const measured = measuredIn(trace?.output === output ? trace : undefined);
    const mappedArm = found?.controller?.config.arms[output];
    const {session = '', cycles = 0} = this.bench.moment() ?? {};
    const grounds = groundsOfSighting({output, arm}, this.asked());
    const place = {session, cycles: cycles ?? 0, grounds};
    const seen = {output, arm, sense, rotationSetting, mappedArm, ...place, at: Date.now(), ...measured};
    this.record.addSighting(seen);
    this.asking.set(false);
    const {arms, rotation} = planFromSighting(craft, found, seen);
    this.fleet.setController({arms});
    if (rotation) this.fleet.setParameter('rotation', rotation);
    this.output.set(this.nextOutput());
  }

  /** Not one motor that turned: what to try, beside the output that stays the next one. */
  protected unexpected(kind: UnexpectedKind): void {
    const output = this.output();
    const samples = (this.measured ?? this.session?.trace())?.samples ?? [];
    this.session?.end();
    this.asking.set(false);
    const esc = this.record.found()?.escs.find((e) => e.output === output);
    const settings = esc?.settings?.values;
    this.advice.set({output, kind, ...adviceOn({kind, output, settings, answered: esc !== undefined, samples})});
  }

  /** Plans start-up powers for the ESC of an output. */
  protected planStart(output: number, powers: NonNullable<Advice['startPower']>): void {
    for (const key of ['startLow', 'startHigh'] as const) {
      const craft = this.fleet.current()!;
      const held = craft.arms.map(
        (_, o) => this.record.found()?.escs.find((e) => e.output === o)?.settings?.values[key],
      );
      this.fleet.setParameter(
        key,
        setOnMotors(craft.plan.parameters[key], {held, motors: [output], value: powers[key]}),
      );
    }
    this.advice.set(undefined);
  }

  protected again(output: number): void {
    this.session?.end();
    this.asking.set(false);
    this.output.set(output);
  }

  /** What eyes would see on the stand-in, and the trace so far. */
  private async look(): Promise<void> {
    if (this.session && !this.measured) this.show(this.session.trace());
    if (this.standIn.isPresent() && this.bench.isConnected()) this.seenTurning.set(await this.standIn.look());
  }

  private nextOutput(): number {
    return nextOutput(this.asked(), this.record.sightings());
  }
}

/** What a sighting keeps of a trace. */
function measuredIn(trace: HoldTrace | undefined): Pick<Sighting, 'startsAtUs' | 'startsUs' | 'coastDownS'> {
  const startsUs = trace?.startsUs ?? [];
  return {startsAtUs: startScatter(startsUs)?.meanUs, startsUs, coastDownS: trace?.coastDownS};
}
