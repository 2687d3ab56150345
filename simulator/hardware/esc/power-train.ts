/** Motors, replies and supply of the simulated bench, in steps of one millisecond. */
import {throttleValue, valueThrottle} from '@core/dshot/command';
import {hears} from '@core/controller/signal-pair';
import {loadLimits} from '@core/dshot/loop-budget';
import {isDigital} from '@core/dshot/protocol';
import {decodePeriod, encodePeriod, erpmOfPeriod, periodOfErpm} from '@core/dshot/reply';
import type {Power, Report} from '@core/link/operations';
import {rpmOf, type MotorConstants, type MotorState} from '@core/motor/motor';
import type {Controller} from '../controller/controller';
import {DrivenMotor} from './driven-motor';
import {highestUs, lowestUs} from '../hands/end-points';
import type {Esc} from './esc';
import {Random} from '../../random';
import {extendedBodyAt, roomTemperature, toldBy, warmed, type EscSenses} from './extended-values';
import {ReplyLine, type LossChance} from './reply-line';
import type {WireRecorder} from '../wires/wire-recorder';

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
  wiredClockwise: boolean;
  throttle: number;
  /** Set while an ESC that turns both ways drives its motor backwards. */
  backwards: boolean;
  leaseEnds: number;
  readonly state: MotorState;
  readonly line: ReplyLine;
  /** Loops counted so far. */
  loops: number;
  /** Of the ESC, °C. */
  temperature: number;
  /** ms until the smoke has cleared. */
  smokeMs: number;
}

const smokeAmps = 70;

export class PowerTrain {
  readonly outputs: Output[];
  /** Share of replies spoilt by noise on the motor wires, 0…1, at half throttle. */
  wireNoise = 0;
  /** Share of replies spoilt by what all motors together do to the supply, 0…1, with all at full throttle. */
  supplyNoise = 0;
  /** Output whose reply each output is given, where wires are crossed; its own where left out. */
  replyFrom: readonly number[] = [];
  /** Outputs whose signal wire sits loose: it shakes with its motor. */
  looseWires: readonly number[] = [];
  /** Sees every command and reply while it is there. */
  recorder: WireRecorder | undefined;
  private readonly draws: Random;
  /** Part of a loop that was not counted yet. */
  private uncounted = 0;

  constructor(
    escs: readonly {esc: Esc; motor: MotorConstants; wiredClockwise: boolean}[],
    private readonly controller: Controller,
    private readonly supply: Supply,
    private readonly random: Random,
  ) {
    // Draws of its own: how replies fare says nothing about how motors turn.
    const draws = new Random(random.below(0x7fffffff));
    this.draws = draws;
    this.outputs = escs.map(({motor: constants, ...e}) => ({
      ...e,
      motor: new DrivenMotor(constants, random),
      get state() {
        return this.motor.state;
      },
      throttle: 0,
      backwards: false,
      leaseEnds: 0,
      line: new ReplyLine(draws),
      loops: 0,
      temperature: roomTemperature,
      smokeMs: 0,
    }));
  }

  /** What the supply tells, rounded as its sensor is. @param cycles how often power came on. */
  power(cycles: number): Power {
    const rounded = (value: number) => Math.round(value * 100) / 100;
    return {volts: rounded(this.volts), amps: rounded(this.amps), cycles};
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
    this.changeMotor(output, {poles});
  }

  /** Someone mounts a motor that differs in so much. */
  changeMotor(output: number, change: Partial<MotorConstants>): void {
    const o = this.outputs[output];
    if (o) o.motor = new DrivenMotor({...o.motor.constants, ...change}, this.random);
  }

  /** Someone mounts another motor of the same make. @param turnsOver its wires are soldered the other way round. */
  replaceMotor(output: number, turnsOver: boolean): void {
    const o = this.outputs[output]!;
    o.motor = new DrivenMotor(o.motor.constants, this.random);
    if (turnsOver) o.wiredClockwise = !o.wiredClockwise;
  }

  stop(): void {
    for (const o of this.outputs) o.throttle = 0;
  }

  get isActive(): boolean {
    for (const {throttle, motor, smokeMs} of this.outputs)
      if (throttle > 0 || !motor.isStill || smokeMs > 0) return true;
    return false;
  }

  get amps(): number {
    if (!this.supply.on) return 0;
    let sum = this.supply.restAmps;
    for (const {motor, throttle, smokeMs} of this.outputs)
      sum = sum + Math.max(0, motor.state.amps * Math.max(throttle, 0.02)) + (smokeMs > 0 ? smokeAmps : 0);
    return sum;
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
      o.temperature = warmed(o.temperature, o.state.amps * Math.sqrt(duty), dtMs / 1000);
    }
  }

  /** Counts the replies of `ms` of control loops that end now. */
  countReplies(ms: number, now: number): void {
    const {replies, loopHz, protocol} = this.controller.running;
    const hears = replies && isDigital(protocol);
    if (!hears && !this.recorder) return;
    const due = this.uncounted + (loopHz * ms) / 1000;
    const count = Math.floor(due + 1e-9);
    this.uncounted = Math.max(0, due - count);
    if (count === 0) return;
    const loopMs = 1000 / loopHz;
    this.outputs.forEach((o, output) => {
      const lost = hears ? o.line.take(count, this.lossChance(o, output), {now, loopMs}) : [];
      const first = o.loops;
      o.loops += count;
      this.recorder?.loops(output, {
        ...{count, loopMs, replies: hears, protocol, lost},
        ...{throttle: o.throttle, value: throttleValue(o.throttle), disturbed: this.wireNoise / 4},
        body: (loop) => this.bodyOf(o, output, first + loop),
      });
    });
  }

  /** The 12 bits of a reply: a speed, and now and then something else where the ESC was told to. */
  private bodyOf(o: Output, output: number, loop: number): number {
    const extended = this.tellsMore(o) ? extendedBodyAt(loop, this.senses(o)) : undefined;
    return extended ?? encodePeriod(periodOfErpm(this.erpm(output) ?? 0));
  }

  /** A spoilt reply that happens to check: one of so many is taken for a speed. */
  private heardErpm(from: number): number | null {
    const erpm = this.erpm(from);
    const {spoilt} = this.lossChance(this.outputs[from]!, from);
    if (erpm === null || spoilt === 0 || this.draws.next() * passing > spoilt) return erpm;
    return erpmOfPeriod(decodePeriod(this.draws.below(0xfff)));
  }

  private tellsMore = ({esc}: Output): boolean => !!this.controller.running.extendedReplies && esc.tellsMore;

  private senses = (o: Output): EscSenses => ({
    ...{temperature: o.temperature, volts: this.volts},
    ...{amps: Math.abs(o.state.amps), desyncs: o.motor.desyncs},
  });

  /** eRPM as the last reply carried it, with its 9-bit mantissa; null when replies are off or do not come. */
  erpm(output: number): number | null {
    const o = this.outputs[output]!;
    if (
      !this.controller.running.replies ||
      !isDigital(this.controller.running.protocol) ||
      lossOf(this.lossChance(o, output)) > 0.9
    )
      return null;
    const erpm = (o.motor.measuredRpm() * o.motor.constants.poles) / 2;
    return erpmOfPeriod(decodePeriod(encodePeriod(periodOfErpm(erpm))));
  }

  /** What a report at this moment tells of every motor. */
  told(now: number): Report['motors'] {
    return this.outputs.map((o, i) => {
      const {line, throttle} = o;
      const erpm = this.heardErpm(this.replyFrom[i] ?? i);
      return {
        ...{erpm, throttle, asked: line.asked, lost: line.lost},
        lostAs: {...line.lostAs, run: line.tellRun(), ageMs: line.ageMs(now)},
        ...(erpm !== null && this.tellsMore(o) && {told: toldBy(this.senses(o))}),
      };
    });
  }

  turnsClockwise(output: number): boolean {
    const o = this.outputs[output]!;
    return o.wiredClockwise !== (o.esc.reversed || o.backwards);
  }

  /** What the loop leaves unheard, and what noise and shaking wires spoil: more with throttle, since currents and vibration grow. */
  private lossChance({esc, throttle}: Output, output: number): LossChance {
    if (!this.supply.on || !esc.repliesToDshot || esc.burnt) return {silent: 1, spoilt: 0};
    if (!hears(esc.chip, this.controller.running.protocol, true)) return {silent: 0.98, spoilt: 0};
    const {load, wireFits, wire, periodUs} = this.controller.budget(this.outputs.length);
    const late = wireFits ? 0 : 1 - periodUs / wire.totalUs;
    const busy = Math.max(0, load - loadLimits.most) * 1.5;
    const shaken = this.looseWires.includes(output) ? 0.3 * throttle ** 2 : 0;
    return {
      silent: Math.min(1, late + busy),
      spoilt: Math.min(1, this.wireNoise * (0.5 + throttle) + this.supplyNoise * this.meanThrottle + shaken),
    };
  }

  private get meanThrottle(): number {
    let sum = 0;
    for (const {throttle} of this.outputs) sum += throttle;
    return sum / this.outputs.length;
  }

  /** Throttle as the ESC understands the command, 0…1. */
  private heard({esc, throttle}: Output): number {
    if (isDigital(this.controller.running.protocol)) return throttle;
    return throttle > 0 ? esc.shareOfPulse(lowestUs + (highestUs - lowestUs) * throttle) : 0;
  }

  private isHeard(esc: Esc): boolean {
    return hears(esc.chip, this.controller.running.protocol, false);
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

/** A checksum of four bits lets one of sixteen pass. */
const passing = 16;

const lossOf = ({silent, spoilt}: LossChance): number => 1 - (1 - silent) * (1 - spoilt);
