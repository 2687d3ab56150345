/**
 * One motor behind its ESC: a blind start that scatters and may stutter, commutation that loses step where its margin is
 * gone, and the speed as the ESC measures it, late and not quite even.
 */
import {commutationMargin, phaseAngle, torqueShare} from '@core/motor/desync';
import {restAmps, startDutyAt} from '@core/motor/esc-currents';
import {electricalHz} from '@core/motor/full-throttle';
import {effectiveDuty, rpmOf, stepMotor, type MotorConstants, type MotorState} from '@core/motor/motor';
import {startTorque, torqueAtRest} from '@core/motor/starting';
import {timingAutomatic} from '@core/settings/parameters/special-values';
import type {Drive} from './esc';
import type {Random} from '../../random';

const atRest: MotorState = {omega: 0, amps: 0};

/** Below this speed back-EMF says nothing and the ESC starts blind, rad/s. */
const blindOmega = 40;
/** A start that does not catch is given up and tried again after this, s. */
const attemptS = 0.09;
/** The part of it in which the rotor twitches, s, and how fast it gets, rad/s. */
const twitchS = 0.035;
const twitchOmega = 30;
/** Scatter of the torque that a start takes, relative: the rotor lies somewhere else each time. */
const startScatter = 0.06;
/** Scatter of a measured electrical turn, relative. */
const measuredScatter = 0.002;
/** Without a commutation for so long a motor counts as stopped, s. */
const silentS = 0.02;
/** Commutations from the first to the last of an electrical turn: six sectors and the one that it began with. */
const remembered = 7;
/** Scatter of a current sense: A and relative. */
const senseAmps = 0.1;
const senseShare = 0.01;

/** What acts on a motor for a moment. */
interface MotorDrive {
  readonly volts: number;
  readonly throttle: number;
  /** Duty that the throttle asks for, 0…1. */
  readonly duty: number;
  readonly esc: Drive;
}

export class DrivenMotor {
  state: MotorState = atRest;
  /** How often it has lost step since power-up. */
  desyncs = 0;
  /** Starts that did not catch since it last stood. */
  stutters = 0;
  private attempt: {leftS: number; readonly catches: boolean} | undefined;
  private outOfStepS = 0;
  private measured = 0;
  /** Moments of the last commutations, s, and the part of a sector turned since. */
  private commutations: number[] = [];
  private sectors = 0;
  private timeS = 0;

  constructor(
    readonly constants: MotorConstants,
    private readonly random: Random,
  ) {}

  /** Neither turning nor told to turn. */
  get isStill(): boolean {
    return this.state.omega === 0 && this.measured === 0;
  }

  /** Speed as the ESC's last reply tells it, rpm. */
  measuredRpm(): number {
    return this.measured === 0 ? 0 : rpmOf(this.measured) * (1 + measuredScatter * this.random.normal());
  }

  /** Phase current as the ESC senses it, A. */
  sensedAmps(): number {
    const {amps} = this.state;
    if (amps === 0) return 0;
    return amps * (1 + senseShare * this.random.normal()) + senseAmps * this.random.normal();
  }

  /** Stops at once: the bridge is gone. */
  fail(): void {
    this.state = atRest;
    this.measured = 0;
    this.commutations = [];
  }

  /** Advances by `dtS`, at most a millisecond. */
  step(drive: MotorDrive, dtS: number): void {
    if (drive.duty === 0) this.rest();
    if (this.outOfStepS > 0) this.slip(drive, dtS);
    else if (drive.duty > 0 && this.state.omega < blindOmega) this.start(drive, dtS);
    else this.turn(drive, dtS);
    this.measure(dtS);
  }

  private rest(): void {
    this.attempt = undefined;
    this.outOfStepS = 0;
    if (this.state.omega === 0) this.stutters = 0;
  }

  private turn(drive: MotorDrive, dtS: number): void {
    const {esc, volts, duty} = drive;
    this.attempt = undefined;
    this.stutters = 0;
    const point = {rpm: rpmOf(this.state.omega), amps: this.state.amps};
    const ideal = phaseAngle(this.constants, {...point, amps: Math.max(0, point.amps)});
    const advance = esc.timing === timingAutomatic ? ideal : esc.timing;
    const {pwmHz, deadTimeS, brakeShare, limitAmps} = esc.bridge;
    const bridge = {pwmHz, deadTimeS, brakeShare, limitAmps, alignment: torqueShare(advance, ideal)};
    this.state = stepMotor(this.state, {volts, duty}, {motor: this.constants, bridge}, dtS);
    if (duty > 0) this.maybeLoseStep(drive, advance, dtS);
  }

  /** Beyond its margin each electrical turn may be the one that is lost; the further beyond, the surer. */
  private maybeLoseStep({esc, volts}: MotorDrive, advance: number, dtS: number): void {
    const {poles, inductanceH} = this.constants;
    const hz = electricalHz(rpmOf(this.state.omega), poles);
    const point = {hz, amps: this.state.amps, volts, inductanceH, pwmHz: esc.bridge.pwmHz, demag: esc.demag};
    const missing = -commutationMargin(point, advance);
    if (missing <= 0 || this.random.next() > 1 - Math.exp((-missing / 30) * hz * dtS)) return;
    this.desyncs++;
    this.outOfStepS = 0.06 + 0.08 * this.random.next();
  }

  /** Out of step the field runs away from the rotor: current without torque, and the rotor is braked. */
  private slip({esc, volts}: MotorDrive, dtS: number): void {
    this.outOfStepS -= dtS;
    const {limitAmps} = esc.bridge;
    const stuck = Math.min(limitAmps, (0.3 * volts) / this.constants.resistanceOhm);
    const braked = {motor: this.constants, bridge: {...esc.bridge, brakeShare: 0.6, alignment: 1}};
    const {omega} = stepMotor(this.state, {volts, duty: 0}, braked, dtS);
    this.state = {omega, amps: stuck * (0.4 + 0.6 * this.random.next())};
    this.attempt = undefined;
  }

  private start(drive: MotorDrive, dtS: number): void {
    const {esc, volts, throttle} = drive;
    const duty = Math.min(drive.duty, startDutyAt(throttle, esc.startLowUs, esc.startHighUs));
    const {limitAmps} = esc.bridge;
    if (!this.attempt || this.attempt.leftS <= 0) {
      const available = torqueAtRest(this.constants, {volts, duty: effectiveDuty(duty, esc.bridge), limitAmps});
      const scatter = Math.exp(startScatter * this.random.normal());
      const catches = available >= startTorque(this.constants) * scatter;
      if (!catches && available > 0.5 * startTorque(this.constants)) this.stutters++;
      this.attempt = {leftS: attemptS, catches};
    }
    this.attempt.leftS -= dtS;
    if (this.attempt.catches) {
      this.state = stepMotor(this.state, {volts, duty}, {motor: this.constants, bridge: esc.bridge}, dtS);
      return;
    }
    const amps = restAmps(volts, effectiveDuty(duty, esc.bridge), this.constants.resistanceOhm, limitAmps);
    const since = attemptS - this.attempt.leftS;
    const share = (torqueAtRest(this.constants, {volts, duty, limitAmps}) / startTorque(this.constants)) ** 2;
    const omega = since < twitchS && share > 0.25 ? twitchOmega * share * Math.sin((Math.PI * since) / twitchS) : 0;
    this.state = {omega, amps};
  }

  /** An ESC times its commutations: what it tells is the mean of the last electrical turn, from its last commutation on. */
  private measure(dtS: number): void {
    const {omega} = this.state;
    const {poles} = this.constants;
    this.timeS += dtS;
    this.sectors += (omega * (poles / 2) * dtS) / (Math.PI / 3);
    if (this.sectors >= 1) this.commutate((omega * (poles / 2)) / (Math.PI / 3));
    if (this.timeS - (this.commutations.at(-1) ?? -1) < silentS) return;
    this.measured = 0;
    this.commutations = [];
  }

  /** The commutations of this step, of which an electrical turn remembers the last seven. @param perSecond sectors in a second. */
  private commutate(perSecond: number): void {
    const {commutations, constants} = this;
    this.sectors -= Math.max(0, Math.floor(this.sectors) - remembered);
    while (this.sectors >= 1) {
      this.sectors -= 1;
      commutations.push(this.timeS - this.sectors / perSecond);
    }
    if (commutations.length > remembered) commutations.splice(0, commutations.length - remembered);
    if (commutations.length < remembered) return;
    const turnS = commutations[remembered - 1]! - commutations[0]!;
    this.measured = (2 * Math.PI) / (turnS * (constants.poles / 2));
  }
}
