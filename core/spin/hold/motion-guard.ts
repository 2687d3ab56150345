/** Watches what a script does to the motors: cuts on too much current, a start that does not catch, a speed that runs away. */
import {rpmOfErpm} from '../../dshot/reply';
import type {Report} from '../../link/operations';
import type {Problem} from '../../problem';
import {turningRpm} from '../../motion/starting';

export interface GuardQuestion {
  readonly outputs: readonly number[];
  readonly poles: number;
  /** rpm/V of the motors as they turn with their timing. */
  readonly seenKv: number;
  /** Largest current out of the pack, A. */
  readonly mostAmps: number;
}

/** A start that has not caught after this is stuck, ms. */
const stuckMs = 900;
/** Throttle from which a motor is meant to turn. */
const turnsFrom = 0.04;
/** A free motor turns no faster than KV and volts say; this much faster nobody commands it any more. */
export const runaway = 1.35;
/** Time a motor may take to fall after a lower command before its speed counts, ms. */
const fallingMs = 1500;
/** So many reports in a row must agree, so that one spoilt reply cuts nothing. */
const inARow = 3;

/** Takes every report of a hold; says why it must end, once. */
export class MotionGuard {
  private readonly commandedAt = new Map<number, number>();
  private readonly highest = new Map<number, {throttle: number; atMs: number}>();
  private overAmps = 0;
  private readonly tooFast = new Map<number, number>();

  constructor(private readonly question: GuardQuestion) {}

  hear(report: Report): Problem | undefined {
    const current = this.hearCurrent(report);
    if (current) return current;
    for (const output of this.question.outputs) {
      const why = this.stuck(report, output) ?? this.runsAway(report, output);
      if (why) return why;
    }
    return undefined;
  }

  /** The current alone: all that holds where it is not known yet whose replies are whose. */
  hearCurrent(report: Report): Problem | undefined {
    const {mostAmps} = this.question;
    this.overAmps = report.power.amps > mostAmps ? this.overAmps + 1 : 0;
    if (this.overAmps < inARow) return undefined;
    return cut(
      'over-current',
      'whole craft',
      `${report.power.amps.toFixed(1)} A flowed out of the pack; the bench allows ${mostAmps.toFixed(0)} A.`,
      'Look for a blocked motor or a short, then try less throttle.',
    );
  }

  private stuck({atMs, motors}: Report, output: number): Problem | undefined {
    const motor = motors[output];
    if (!motor || motor.throttle < turnsFrom || motor.erpm === null || this.rpmOf(motor.erpm) > turningRpm) {
      this.commandedAt.delete(output);
      return undefined;
    }
    const since = this.commandedAt.get(output) ?? atMs;
    this.commandedAt.set(output, since);
    if (atMs - since < stuckMs) return undefined;
    return cut(
      'stuck',
      `motor ${output + 1}`,
      `Motor ${output + 1} did not get going within ${(stuckMs / 1000).toFixed(1)} s at ${(motor.throttle * 100).toFixed(0)} %: it stutters or is blocked.`,
      'Turn it by hand with the battery off; then look at its start-up power on the Parameters station.',
    );
  }

  private runsAway({atMs, motors, power}: Report, output: number): Problem | undefined {
    const motor = motors[output];
    if (!motor || motor.erpm === null) return undefined;
    const highest = this.highest.get(output);
    if (!highest || motor.throttle >= highest.throttle || atMs - highest.atMs > fallingMs)
      this.highest.set(output, {throttle: motor.throttle, atMs});
    const most = this.question.seenKv * power.volts * Math.max(this.highest.get(output)!.throttle, 0.02) * runaway;
    const rpm = this.rpmOf(motor.erpm);
    const times = rpm > most + 3 * turningRpm ? (this.tooFast.get(output) ?? 0) + 1 : 0;
    this.tooFast.set(output, times);
    if (times < inARow) return undefined;
    return cut(
      'runaway',
      `motor ${output + 1}`,
      `Motor ${output + 1} turned with ${rpm.toFixed(0)} rpm, more than ${most.toFixed(0)} rpm that its command can give.`,
      'Check KV, cells and pole count on the Craft station; a wrong count reads as a wrong speed.',
    );
  }

  private rpmOf(erpm: number): number {
    return rpmOfErpm(erpm, this.question.poles);
  }
}

const cut = (code: string, place: string, meaning: string, remedy: string): Problem => ({
  code,
  place,
  meaning: `${meaning} The motors were cut.`,
  remedy,
});
