import {ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal} from '@angular/core';
import {splitValue} from '@core/craft/plan-values';
import {wantedSenses} from '@core/craft/craft';
import {rpmOfErpm} from '@core/dshot/reply';
import {ProblemError, type Problem} from '@core/problem';
import {coastDown, pulseUs, startThreshold, type SpeedSample} from '@core/motor/measures';
import {SpinLease} from '@core/spin/lease';
import {sightingHolds} from '@core/spin/sighting';
import {ChartComponent, sheetAxis, sheetColours} from '../../charts/chart.component';
import {ConnectComponent} from '../../shared/connect.component';
import {CraftDrawingComponent, type ArmAnswer, type DrawnArm} from '../../shared/craft-drawing.component';
import {HoldButtonComponent} from '../../shared/hold-button.component';
import {ProblemComponent} from '../../shared/problem.component';
import {PropsOffComponent} from '../../shared/props-off.component';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {realClock} from '../../bench/real-clock';
import {RecordStore} from '../../state/record.store';
import type {TurningOutput} from '../../workers/bench-control';

/** Throttle climbs from nothing to this while held, so that the start is seen; then it stays. */
const holdThrottle = 0.06;
const climbStep = 0.001;
const climbEveryMs = 50;
/** Time the trace goes on after letting go, ms: longer than any coast-down worth measuring. */
const coastMs = 2500;
/** Margin of the idle above the highest start, µs (common practice). */
const idleMarginUs = 15;

/** Spin station: hold to turn one output, point at what moved; order and rotation follow. */
@Component({
  selector: 'bx-spin',
  imports: [
    ChartComponent,
    ConnectComponent,
    CraftDrawingComponent,
    HoldButtonComponent,
    ProblemComponent,
    PropsOffComponent,
  ],
  templateUrl: './spin.component.html',
  styleUrl: './spin.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SpinComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly fleet = inject(FleetStore);
  protected readonly record = inject(RecordStore);

  protected readonly output = signal(this.nextOutput());
  protected readonly throttle = signal(0);
  protected readonly held = signal(false);
  /** The output has turned and its answer is open. */
  protected readonly asking = signal(false);
  protected readonly seenTurning = signal<readonly TurningOutput[] | undefined>(undefined);
  /** Why the last hold ended, where it was not just let go. */
  protected readonly problem = signal<Problem | undefined>(undefined);
  protected readonly traces = signal<Readonly<Record<number, readonly SpeedSample[]>>>({});

  private lease: SpinLease | undefined;
  private endStop: (() => void) | undefined;
  private timers: ReturnType<typeof setInterval>[] = [];
  private startsAt: number | undefined;
  private origin = 0;
  private offReports: (() => void) | undefined;
  private measured: {output: number; startsAtUs: number | undefined; coastDownS: number | undefined} | undefined;

  protected readonly senses = computed(() => wantedSenses(this.fleet.current()!));
  /** Replies say that something turns although nothing is held. */
  protected readonly runningOut = computed(() => !this.held() && this.bench.motors().some((m) => (m.erpm ?? 0) > 0));
  protected readonly canHold = computed(
    () => this.bench.propsOff() && !!this.record.found() && !this.bench.occupied() && !this.runningOut(),
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
        state: sightingHolds(sighting, craft, this.record.found()) ? 'ok' : 'diff',
      };
    });
  });

  protected readonly rows = computed(() => {
    const craft = this.fleet.current()!;
    const sightings = this.record.sightings();
    const coasts = sightings.flatMap((s) => (s.coastDownS === undefined ? [] : [s.coastDownS])).sort((a, b) => a - b);
    const usual = coasts[Math.floor((coasts.length - 1) / 2)];
    return craft.plan.controller.arms.map((plannedArm, output) => {
      const seen = sightings.find((s) => s.output === output);
      const wanted = this.senses()[seen?.arm ?? plannedArm]!;
      return {
        output,
        seen,
        arm: seen ? craft.arms[seen.arm]?.name : undefined,
        armWrong: !!seen && seen.arm !== plannedArm,
        wanted,
        senseWrong: !!seen && seen.sense !== wanted,
        stale:
          !!seen &&
          seen.arm === plannedArm &&
          seen.sense === wanted &&
          !sightingHolds(seen, craft, this.record.found()),
        coastsLong: usual !== undefined && (seen?.coastDownS ?? 0) > 2 * usual,
      };
    });
  });

  /** Idle that the seen starts ask for, percent in steps of 0.1. */
  protected readonly idle = computed(() => {
    const starts = this.record.sightings().flatMap((s) => (s.startsAtUs === undefined ? [] : [s.startsAtUs]));
    if (starts.length < this.fleet.current()!.arms.length) return undefined;
    const highest = Math.max(...starts);
    return {highest, percent: Math.ceil(highest + idleMarginUs - 1000) / 10};
  });

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
    const stopWatching = setInterval(() => void this.watch(), 120);
    inject(DestroyRef).onDestroy(() => {
      clearInterval(stopWatching);
      this.letGo();
      this.endTrace();
    });
  }

  protected readonly pulse = pulseUs;
  protected readonly anythingMoves = computed(() => this.seenTurning()?.some((s) => s.turning || s.smoke) ?? true);

  protected hold(): void {
    if (this.lease || !this.canHold()) return;
    this.problem.set(undefined);
    let lease: SpinLease;
    try {
      this.endStop = this.bench.beginHold((why) => this.letGo(why));
      lease = new SpinLease(this.bench.requireClient(), realClock, ({problem}) => this.letGo(problem));
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      this.endStop?.();
      this.problem.set(error.problem);
      return;
    }
    this.endTrace();
    const output = this.output();
    this.asking.set(true);
    this.held.set(true);
    this.measured = undefined;
    this.startsAt = undefined;
    this.traces.update((t) => ({...t, [output]: []}));
    this.origin = 0;
    const samples: SpeedSample[] = [];
    this.offReports = this.bench.onReport((report) => {
      const motor = report.motors[output];
      if (!motor || motor.erpm === null) return;
      this.origin ||= report.atMs;
      samples.push({
        atS: (report.atMs - this.origin) / 1000,
        rpm: rpmOfErpm(motor.erpm, this.poles()),
        throttle: motor.throttle,
      });
      this.startsAt ??= startThreshold(samples);
    });
    this.timers.push(setInterval(() => this.traces.update((t) => ({...t, [output]: [...samples]})), 100));
    this.lease = lease;
    this.throttle.set(0.01);
    lease.set([{output, throttle: this.throttle()}]);
    this.timers.push(
      setInterval(() => {
        if (!this.lease || this.throttle() >= holdThrottle) return;
        // Once the start is seen the climb need not be slow any more.
        this.throttle.update((t) => Math.min(holdThrottle, t + climbStep * (this.startsAt === undefined ? 1 : 4)));
        lease.set([{output, throttle: this.throttle()}]);
      }, climbEveryMs),
    );
    const finish = () => {
      this.measured = {output, startsAtUs: this.startsAt, coastDownS: coastDown(samples)};
      this.traces.update((t) => ({...t, [output]: [...samples]}));
      // Answered while it still coasted: the coast-down comes after.
      const seen = this.record.sightings().find((s) => s.output === output && s.coastDownS === undefined);
      if (seen && !(this.asking() && this.output() === output)) this.record.addSighting({...seen, ...this.measured});
    };
    this.finishTrace = finish;
  }

  private finishTrace: (() => void) | undefined;
  private coasting: ReturnType<typeof setTimeout> | undefined;

  protected letGo(why?: Problem): void {
    const lease = this.lease;
    if (!lease) return;
    this.problem.set(why);
    this.lease = undefined;
    this.held.set(false);
    this.throttle.set(0);
    this.endStop?.();
    void lease.stop();
    this.coasting = setTimeout(() => this.endTrace(), coastMs);
  }

  protected answer({arm, sense}: ArmAnswer): void {
    const output = this.output();
    this.letGo();
    const setting = this.record.found()?.escs.find((e) => e.output === output)?.settings?.values.rotation;
    const measured = this.measured?.output === output ? this.measured : {startsAtUs: undefined, coastDownS: undefined};
    this.record.addSighting({
      output,
      arm,
      sense,
      rotationSetting: setting,
      at: Date.now(),
      startsAtUs: measured.startsAtUs ?? this.startsAt,
      coastDownS: measured.coastDownS,
    });
    this.asking.set(false);
    this.planFollows(output, arm, sense, setting);
    this.output.set(this.nextOutput());
  }

  protected again(output: number): void {
    this.letGo();
    this.endTrace();
    this.asking.set(false);
    this.output.set(output);
  }

  /** What was seen decides the plan: another arm changes the output map, a wrong sense turns the ESC over. */
  private planFollows(output: number, arm: number, sense: string, setting: number | undefined): void {
    const craft = this.fleet.current()!;
    const arms = [...craft.plan.controller.arms];
    const other = arms.indexOf(arm);
    if (other >= 0 && other !== output) [arms[output], arms[other]] = [arm, arms[output]!];
    this.fleet.setController({arms});
    // An ESC that turns both ways has no sense of its own to follow.
    if (setting === undefined || setting > 1) return;
    const right = sense === this.senses()[arm] ? setting : 1 - setting;
    const held = craft.arms.map(
      (_, o) => this.record.found()?.escs.find((e) => e.output === o)?.settings?.values.rotation,
    );
    const split = splitValue(craft.plan.parameters['rotation'], held, 0);
    if (split.kind !== 'per motor') return;
    this.fleet.setParameter('rotation', {...split, values: split.values.map((v, i) => (i === output ? right : v))});
  }

  private endTrace(): void {
    clearTimeout(this.coasting);
    for (const timer of this.timers) clearInterval(timer);
    this.timers = [];
    this.offReports?.();
    this.offReports = undefined;
    this.finishTrace?.();
    this.finishTrace = undefined;
  }

  private async watch(): Promise<void> {
    if (this.bench.isConnected()) this.seenTurning.set(await this.bench.simulator().look());
  }

  private nextOutput(): number {
    const craft = this.fleet.current()!;
    const found = this.record.found();
    const open = craft.arms.findIndex(
      (_, o) => !this.record.sightings().some((s) => s.output === o && sightingHolds(s, craft, found)),
    );
    return open < 0 ? 0 : open;
  }
}
