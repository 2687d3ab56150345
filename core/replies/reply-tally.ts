/** Counts replies report by report: losses by kind, over time, throttle and speed, runs, ages, and speeds that cannot be. */
import {rpmOfErpm} from '../dshot/reply';
import type {Report} from '../link/operations';
import {lossKinds, type LossBin, type LossKind, type MotorQuality, type ReplyQuality} from './reply-quality';

export interface TallyQuestion {
  readonly outputs: number;
  readonly poles: number;
  /** Fastest that a motor of this craft can turn on a full pack, rpm. */
  readonly mostRpm: number;
}

/** Throttle and speed are counted in so many bins each; time in at most so many. */
const bins = 10;
const maxTimes = 240;
/** First length of a bin of time, s; doubled whenever they become too many. */
const firstTimeS = 0.25;
/** A throttle that has stood for so long leaves a motor at its speed, ms. */
const settledMs = 250;
/** At one throttle a speed does not jump by this share of itself from report to report: nothing pushes a bell so hard. */
const maxJump = 0.3;

type ReportedMotor = Report['motors'][number];

interface OfMotor {
  asked: number;
  lost: number;
  readonly lostAs: Record<LossKind, number>;
  tellsKinds: boolean;
  implausible: number;
  run: number;
  oldestMs: number;
  throttle: number;
  throttleSinceMs: number;
  rpm: number | undefined;
  readonly overThrottle: LossBin[];
  readonly alone: LossBin[];
  readonly overSpeed: LossBin[];
}

interface OfTime {
  asked: number[];
  lost: number[];
  rpm: (number | null)[];
  throttle: number;
}

const emptyBins = (): LossBin[] => Array.from({length: bins}, () => ({asked: 0, lost: 0}));

export class ReplyTally {
  private readonly motors: OfMotor[];
  private before: readonly ReportedMotor[] | undefined;
  private beganMs = 0;
  private lastMs = 0;
  private load = 0;
  private times: OfTime[] = [];
  private timeS = firstTimeS;

  constructor(private readonly question: TallyQuestion) {
    this.motors = Array.from({length: question.outputs}, () => ({
      ...{asked: 0, lost: 0, lostAs: {missing: 0, code: 0, checksum: 0}, tellsKinds: true, implausible: 0, run: 0},
      ...{oldestMs: 0, throttle: 0, throttleSinceMs: 0, rpm: undefined},
      ...{overThrottle: emptyBins(), alone: emptyBins(), overSpeed: emptyBins()},
    }));
  }

  /** The first report is what the next ones are counted from. */
  hear(report: Report): void {
    const {before} = this;
    this.before = report.motors;
    if (!before) {
      this.beganMs = this.lastMs = report.atMs;
      return;
    }
    this.lastMs = report.atMs;
    this.load = Math.max(this.load, report.load);
    const time = this.timeOf((report.atMs - this.beganMs) / 1000);
    for (const [i, motor] of this.motors.entries()) {
      const [now, was] = [report.motors[i], before[i]];
      if (now && was)
        this.count(motor, {
          now,
          was,
          atMs: report.atMs,
          i,
          time,
          isAlone: othersStand(report.motors, i) && othersStand(before, i),
        });
    }
  }

  private count(
    motor: OfMotor,
    {
      now,
      was,
      atMs,
      i,
      time,
      isAlone,
    }: {now: ReportedMotor; was: ReportedMotor; atMs: number; i: number; time: OfTime; isAlone: boolean},
  ): void {
    // A controller that started anew counts from 0.
    const restarted = now.asked < was.asked;
    const asked = restarted ? now.asked : now.asked - was.asked;
    const lost = restarted ? now.lost : now.lost - was.lost;
    motor.asked += asked;
    motor.lost += lost;
    if (!now.lostAs) motor.tellsKinds = false;
    else {
      const base = restarted ? undefined : was.lostAs;
      for (const kind of lossKinds) motor.lostAs[kind] += now.lostAs[kind] - (base?.[kind] ?? 0);
      motor.run = Math.max(motor.run, Math.min(now.lostAs.run, lost));
      motor.oldestMs = Math.max(motor.oldestMs, Math.min(now.lostAs.ageMs, atMs - this.beganMs));
    }
    const rpm = now.erpm === null ? undefined : rpmOfErpm(now.erpm, this.question.poles);
    if (this.isImplausible(motor, rpm, now.throttle, atMs)) motor.implausible++;
    else motor.rpm = rpm;
    add(motor.overThrottle[binOf(now.throttle)]!, asked, lost);
    if (isAlone && now.throttle > 0) add(motor.alone[binOf(now.throttle)]!, asked, lost);
    if (motor.rpm !== undefined) add(motor.overSpeed[binOf(motor.rpm / this.question.mostRpm)]!, asked, lost);
    time.asked[i]! += asked;
    time.lost[i]! += lost;
    time.rpm[i] = rpm ?? null;
    time.throttle = Math.max(time.throttle, now.throttle);
  }

  private isImplausible(motor: OfMotor, rpm: number | undefined, throttle: number, atMs: number): boolean {
    if (Math.abs(throttle - motor.throttle) > 1e-6) motor.throttleSinceMs = atMs;
    motor.throttle = throttle;
    if (rpm === undefined) return false;
    if (rpm > this.question.mostRpm) return true;
    const settled = atMs - motor.throttleSinceMs > settledMs && throttle > 0;
    return settled && !!motor.rpm && Math.abs(rpm / motor.rpm - 1) > maxJump;
  }

  /** Bin of a time; two and two become one when there are too many. */
  private timeOf(atS: number): OfTime {
    while (atS / this.timeS >= maxTimes) {
      this.times = this.times.flatMap((t, i) => (i % 2 ? [] : [merged(t, this.times[i + 1])]));
      this.timeS *= 2;
    }
    const at = Math.floor(atS / this.timeS);
    while (this.times.length <= at) this.times.push(this.emptyTime());
    return this.times[at]!;
  }

  private emptyTime(): OfTime {
    const {outputs} = this.question;
    const zeros = () => Array.from({length: outputs}, () => 0);
    return {asked: zeros(), lost: zeros(), rpm: Array.from({length: outputs}, () => null), throttle: 0};
  }

  quality(): ReplyQuality {
    const motors = this.motors.map((m): MotorQuality => ({
      ...{asked: m.asked, lost: m.lost, implausible: m.implausible},
      ...(m.tellsKinds && {lostAs: {...m.lostAs}, longestRun: m.run, oldestMs: m.oldestMs}),
      ...{overThrottle: copied(m.overThrottle), overSpeed: copied(m.overSpeed)},
      ...(m.alone.some((b) => b.asked > 0) && {alone: copied(m.alone)}),
    }));
    return {
      ...{seconds: (this.lastMs - this.beganMs) / 1000, load: this.load, mostRpm: this.question.mostRpm, motors},
      ...{
        timeS: this.timeS,
        overTime: this.times.map((t) => ({...t, asked: [...t.asked], lost: [...t.lost], rpm: [...t.rpm]})),
      },
    };
  }
}

/** A step of DShot above the end of a bin still belongs to it. */
const step = 1 / 2000;
/** Bins end with their upper end: at a cap of 30 % nothing is counted up to 40. */
const binOf = (share: number): number => Math.max(0, Math.min(bins, Math.ceil((share - step) * bins)) - 1);

const copied = (of: readonly LossBin[]): LossBin[] => of.map((b) => ({...b}));

/** Whether no motor but this one has throttle. */
const othersStand = (motors: readonly ReportedMotor[], own: number): boolean =>
  motors.every(({throttle}, i) => i === own || throttle === 0);

function add(bin: LossBin, asked: number, lost: number): void {
  bin.asked += asked;
  bin.lost += lost;
}

const merged = (a: OfTime, b: OfTime | undefined): OfTime =>
  b
    ? {
        asked: a.asked.map((n, i) => n + b.asked[i]!),
        lost: a.lost.map((n, i) => n + b.lost[i]!),
        rpm: b.rpm.map((rpm, i) => rpm ?? a.rpm[i]!),
        throttle: Math.max(a.throttle, b.throttle),
      }
    : a;
