/** Motors, replies and supply of the simulated bench, in steps of one millisecond. */
import {valueThrottle} from '@core/dshot/command';
import {protocolRate} from '@core/dshot/protocol';
import {decodePeriod, encodePeriod, erpmOfPeriod, periodOfErpm} from '@core/dshot/reply';
import {rpmOf, type MotorConstants, type MotorState} from '@core/motor/motor';
import type {Controller} from './controller';
import {DrivenMotor} from './driven-motor';
import {highestUs, lowestUs} from './end-points';
import type {Esc} from './esc';
import type {Random} from '../random';

export interface Supply {
  on: boolean;
  /** Open-circuit voltage, V. */
  volts: number;
  readonly resistanceOhm: number;
  /** What everything but the motors draws, A. */
  readonly restAmps: number;
}

interface Output {
  readonly esc: Esc;
  motor: DrivenMotor;
  /** Whether the wires turn the motor clockwise at "normal" rotation. */
  readonly wiredClockwise: boolean;
  throttle: number;
  /** Set while an ESC that turns both ways drives its motor backwards. */
  backwards: boolean;
  leaseEnds: number;
  readonly state: MotorState;
  asked: number;
  lost: number;
  /** ms until the smoke has cleared. */
  smokeMs: number;
}

const smokeAmps = 70;

export class PowerTrain {
  readonly outputs: Output[];
  /** Share of replies spoilt by noise on the motor wires, 0…1. */
  wireNoise = 0;

  constructor(
    escs: readonly {esc: Esc; motor: MotorConstants; wiredClockwise: boolean}[],
    private readonly controller: Controller,
    private readonly supply: Supply,
    private readonly random: Random,
  ) {
    this.outputs = escs.map(({motor: constants, ...e}) => ({
      ...e,
      motor: new DrivenMotor(constants, random),
      get state() {
        return this.motor.state;
      },
      throttle: 0,
      backwards: false,
      leaseEnds: 0,
      asked: 0,
      lost: 0,
      smokeMs: 0,
    }));
  }

  /** @param added throttle that the loop puts on top, 0…1. */
  command(
    output: number,
    value: number,
    {leaseEnds, added = 0}: {leaseEnds: number; added?: number | undefined},
  ): void {
    const o = this.outputs[output];
    if (!o) return;
    const throttle = valueThrottle(value);
    o.throttle = throttle > 0 ? Math.min(1, throttle + added) : 0;
    o.leaseEnds = leaseEnds;
  }

  /** Someone mounts another motor, with another number of magnets. */
  mountMotor(output: number, poles: number): void {
    const o = this.outputs[output];
    if (o) o.motor = new DrivenMotor({...o.motor.constants, poles}, this.random);
  }

  stop(): void {
    for (const o of this.outputs) o.throttle = 0;
  }

  get isActive(): boolean {
    return this.outputs.some((o) => o.throttle > 0 || !o.motor.isStill || o.smokeMs > 0);
  }

  get amps(): number {
    if (!this.supply.on) return 0;
    return this.outputs.reduce(
      (sum, o) => sum + Math.max(0, o.state.amps * Math.max(o.throttle, 0.02)) + (o.smokeMs > 0 ? smokeAmps : 0),
      this.supply.restAmps,
    );
  }

  get volts(): number {
    return this.supply.on ? this.supply.volts - this.supply.resistanceOhm * this.amps : 0;
  }

  /** Advances all motors to `now` by `dtMs`, at most 1; `now` ends leases. */
  step(now: number, dtMs = 1): void {
    const volts = this.volts;
    for (const o of this.outputs) {
      if (now > o.leaseEnds) o.throttle = 0;
      if (o.smokeMs > 0) o.smokeMs -= dtMs;
      const drives = this.supply.on && o.esc.state === 'running' && !o.esc.burnt && this.isHeard(o.esc);
      const throttle = this.heard(o);
      const duty = drives ? dutyOf(o.esc, throttle) : 0;
      if (duty > 0) o.backwards = o.esc.turnsBothWays && throttle < 0.5;
      if (duty > 0 && !o.esc.firmwareMatchesBridge) this.burn(o);
      if (o.esc.burnt) {
        o.motor.fail();
        continue;
      }
      const own = o.esc.drive(rpmOf(o.state.omega));
      const esc = drives ? own : {...own, bridge: {...own.bridge, brakeShare: 0}};
      o.motor.step({volts, throttle, duty, esc}, dtMs / 1000);
    }
  }

  /** Counts the replies of `ms` of control loops. */
  countReplies(ms: number): void {
    const {replies, loopHz, protocol} = this.controller.running;
    if (!replies || protocol === 'analog') return;
    const asked = Math.round((loopHz * ms) / 1000);
    for (const o of this.outputs) {
      o.asked += asked;
      const p = this.lossProbability(o.esc);
      const mean = asked * p;
      const whole = Math.floor(mean);
      o.lost += p >= 1 ? asked : Math.min(asked, whole + (this.random.next() < mean - whole ? 1 : 0));
    }
  }

  /** eRPM as the last reply carried it, with its 9-bit mantissa; null when replies are off or do not come. */
  erpm(output: number): number | null {
    const o = this.outputs[output]!;
    if (
      !this.controller.running.replies ||
      this.controller.running.protocol === 'analog' ||
      this.lossProbability(o.esc) > 0.9
    )
      return null;
    const erpm = (o.motor.measuredRpm() * o.motor.constants.poles) / 2;
    return erpmOfPeriod(decodePeriod(encodePeriod(periodOfErpm(erpm))));
  }

  /** What a report tells of every motor. */
  told(): {erpm: number | null; throttle: number; asked: number; lost: number}[] {
    return this.outputs.map(({throttle, asked, lost}, i) => ({erpm: this.erpm(i), throttle, asked, lost}));
  }

  turnsClockwise(output: number): boolean {
    const o = this.outputs[output]!;
    return o.wiredClockwise !== (o.esc.reversed || o.backwards);
  }

  private lossProbability(esc: Esc): number {
    if (!this.supply.on || !esc.repliesToDshot || esc.burnt) return 1;
    if (protocolRate[this.controller.running.protocol] > esc.chip.fastestReplyDshot) return 0.98;
    const {load, wireFits, wire, periodUs} = this.controller.budget(this.outputs.length);
    const late = wireFits ? 0 : 1 - periodUs / wire.totalUs;
    const busy = Math.max(0, load - 0.65) * 1.5;
    return Math.min(1, late + busy + this.wireNoise);
  }

  /** Throttle as the ESC understands the command, 0…1. */
  private heard({esc, throttle}: Output): number {
    if (this.controller.running.protocol !== 'analog') return throttle;
    return throttle > 0 ? esc.shareOfPulse(lowestUs + (highestUs - lowestUs) * throttle) : 0;
  }

  private isHeard(esc: Esc): boolean {
    return protocolRate[this.controller.running.protocol] <= 2 * esc.chip.fastestReplyDshot;
  }

  private burn(o: Output): void {
    if (o.esc.burnt) return;
    o.esc.burnt = true;
    o.smokeMs = 400;
  }
}

/** Both ways, the lower half of the throttle is backwards and the upper half forward; each rises from its own start. */
const dutyOf = (esc: Esc, throttle: number): number =>
  esc.turnsBothWays && throttle > 0 ? 2 * (throttle < 0.5 ? throttle : throttle - 0.5) : throttle;
