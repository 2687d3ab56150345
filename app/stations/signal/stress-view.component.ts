import {ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked} from '@angular/core';
import {DatePipe} from '@angular/common';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import {beforeMeasuring, replyFindings} from '@core/compare/reply-findings';
import {slowestChip} from '@core/firmware/chips';
import {protocolName} from '@core/dshot/protocol';
import {upperBound} from '@core/replies/binomial-bound';
import {provenLoss} from '@core/replies/replies';
import {
  aloneAndTogether,
  judgeQuality,
  shareOf,
  type MotorQuality,
  type ReplyQuality,
} from '@core/replies/reply-quality';
import {stressLengths} from '@core/spin/stress-replies';
import {GateComponent} from '../../shared/gate.component';
import {HoldButtonComponent} from '../../shared/hold-button.component';
import {ProblemComponent} from '../../shared/problem.component';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {OwnPlace} from '../../state/own-place';
import {RecordStore} from '../../state/record.store';
import {CaptureStore, recordingMs} from '../../state/capture.store';
import {StandInStore} from '../../state/stand-in.store';
import {StressStore} from '../../state/stress.store';
import {LiveStripsComponent} from './live-strips.component';
import {LossStripsComponent, type LossRow} from './loss-strips.component';
import {SignalFindingsComponent} from './signal-findings.component';
import {grouped} from '@core/words/grouped';
import {percent} from '@core/words/percent';

/** Replies under load: a script held by hand, what was lost by motor, kind, time, throttle and speed, and why. */
@Component({
  selector: 'bx-stress-view',
  imports: [
    DatePipe,
    FormsModule,
    GateComponent,
    HoldButtonComponent,
    LiveStripsComponent,
    LossStripsComponent,
    ProblemComponent,
    Select,
    SelectButton,
    SignalFindingsComponent,
  ],
  templateUrl: './stress-view.component.html',
  styleUrl: './stress-view.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StressViewComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly fleet = inject(FleetStore);
  protected readonly record = inject(RecordStore);
  private readonly own = inject(OwnPlace);
  protected readonly stress = inject(StressStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly captures = inject(CaptureStore);

  protected readonly lengths = stressLengths.map((value) => ({
    value,
    label: value < 60 ? `${value} s` : `${value / 60} min`,
  }));
  protected readonly seconds = signal<number>(stressLengths[0]);
  /** Whether a part of the run is recorded from the simulated wires. */
  protected readonly records = signal(false);
  private hasRecorded = false;
  protected readonly yesNo = [
    {value: false, label: 'no'},
    {value: true, label: 'yes'},
  ];
  protected readonly recordingMs = recordingMs;
  protected readonly most = percent(provenLoss);
  protected readonly percent = percent;

  protected readonly canHold = computed(
    () => this.bench.propsOff() && !this.bench.occupied() && this.repliesOn() && !this.bench.onAdapter(),
  );
  /** What is counted now, else the run that is looked at. */
  protected readonly quality = computed((): ReplyQuality | undefined =>
    this.stress.isHeld() ? this.stress.counting() : this.stress.shown()?.quality,
  );
  protected readonly verdict = computed(() => {
    const quality = this.quality();
    return quality && judgeQuality(quality);
  });
  protected readonly runs = computed(() =>
    this.stress.own().map((run) => ({
      value: run.id,
      label: `${new Date(run.at).toLocaleString('en-GB', {dateStyle: 'short', timeStyle: 'short'})}, ${run.quality.seconds.toFixed(0)} s, ${protocolName[run.protocol]} at ${run.loopHz / 1000} kHz`,
    })),
  );
  protected readonly ofRun = computed(() => {
    const run = this.stress.shown();
    return (
      run && {
        at: run.at,
        text: `${protocolName[run.protocol]} ${run.replies ? 'with' : 'without'} replies at ${run.loopHz / 1000} kHz, up to ${percent(run.top)} throttle`,
        cut: run.endedBy && `Ended after ${run.quality.seconds.toFixed(1)} of ${run.plannedS} s: ${run.endedBy}`,
      }
    );
  });
  protected readonly mostErpm = computed(() => {
    const {kv, poles} = this.fleet.current()!.motor;
    return (kv * (this.bench.power()?.volts ?? 1) * this.bench.cap() * poles) / 2;
  });

  /** Why: what can be said before measuring, then what the run on what was found shows; one on something else says nothing. */
  protected readonly findings = computed(() => {
    const found = this.record.found();
    const controller = found?.controller;
    const place = this.own.place();
    if (!found || !controller || !place || this.stress.isHeld()) return [];
    const {config} = controller;
    const craft = this.fleet.current()!;
    const question = {
      ...{
        found,
        countedPoles: craft.motor.poles,
        plan: craft.plan.controller,
        volts: this.bench.power()?.volts ?? found.power.volts,
      },
      // What was found ran, not what is planned.
      place: {...place, chip: slowestChip(found.escs.map((e) => e.boot.chip))},
    };
    const before = beforeMeasuring(question);
    const run = this.stress.shown();
    const isOwn =
      run?.protocol === config.protocol &&
      run.loopHz === config.loopHz &&
      run.replies === config.replies &&
      run.at > found.at;
    return before.length || !run || !isOwn ? before : replyFindings({...question, quality: run.quality});
  });
  protected readonly repliesOn = computed(() => !!this.record.found()?.controller?.config.replies);

  protected readonly overTime = computed((): LossRow[] =>
    this.rowsOf((q, i) => q.overTime.map((t) => ({asked: t.asked[i] ?? 0, lost: t.lost[i] ?? 0}))),
  );
  protected readonly overThrottle = computed((): LossRow[] =>
    this.rowsOf((q, i) => visited(q, (m) => m.overThrottle, i)),
  );
  protected readonly overSpeed = computed((): LossRow[] => this.rowsOf((q, i) => visited(q, (m) => m.overSpeed, i)));
  protected readonly together = computed(() => {
    const both = this.quality() && aloneAndTogether(this.quality()!);
    if (!both) return undefined;
    const of = (bin: LossRow['bins'][number]) => `${this.count(bin.lost)} of ${this.count(bin.asked)}`;
    return `At up to ${percent(both.upTo)} throttle: each motor alone lost ${of(both.alone)}, all together ${of(both.together)}.`;
  });
  protected readonly throttleEnd = computed(() => `${10 * (this.overThrottle()[0]?.bins.length ?? 10)} %`);
  protected readonly speedEnd = computed(() => {
    const share = (this.overSpeed()[0]?.bins.length ?? 10) / 10;
    return `${grouped(share * (this.quality()?.mostRpm ?? 0))} rpm`;
  });

  constructor() {
    effect(() => {
      this.fleet.current();
      untracked(() => void this.stress.open());
    });
    // In its midst, when motors are at work.
    effect(() => {
      const share = this.stress.share();
      if (share === undefined) this.hasRecorded = false;
      const isDue = share !== undefined && share > 0.4 && !this.hasRecorded && untracked(() => this.records());
      if (!isDue) return;
      this.hasRecorded = true;
      untracked(() => void this.captures.record(recordingMs));
    });
  }

  protected readonly count = grouped;

  protected loss(m: MotorQuality): string {
    const share = shareOf(m);
    return share === undefined ? '–' : percent(share);
  }

  protected bound = (m: MotorQuality): string => (m.asked ? percent(upperBound(m.lost, m.asked)) : '–');

  private rowsOf(bins: (quality: ReplyQuality, motor: number) => LossRow['bins']): LossRow[] {
    const quality = this.quality();
    return quality?.motors.map((_, i) => ({name: String(i + 1), bins: bins(quality, i)})) ?? [];
  }
}

/** The bins up to the last one that any motor came to. */
function visited(q: ReplyQuality, of: (m: MotorQuality) => LossRow['bins'], motor: number): LossRow['bins'] {
  const last = Math.max(0, ...q.motors.map((m) => of(m).findLastIndex((b) => b.asked > 0)));
  return of(q.motors[motor]!).slice(0, last + 1);
}
