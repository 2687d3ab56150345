/**
 * A simulated flight: motors with propellers behind their ESCs follow a script, unbalance and resonances shake the gyro, the
 * controller filters it with the speeds that replies bring, late and rounded. No line of this knows how Bidex analyses a
 * flight. The gyro is sampled as it comes, so what lies beyond half its rate comes back mirrored.
 */
import {decodePeriod, encodePeriod, erpmOfPeriod, periodOfErpm} from '@core/dshot/reply';
import {rpmOf, type MotorConstants} from '@core/motor/motor';
import {DrivenMotor} from '../hardware/esc/driven-motor';
import type {Drive} from '../hardware/esc/esc';
import {Random} from '../random';
import type {Airframe} from './airframe';
import {AxisFilters, type FilterConfig} from './controller-filters';
import {RateLoop} from './rate-loop';
import {secondsOf, stickStep, throttleAt, type Phase} from './script';
import {GyroShake} from './gyro-shake';

interface FlightSetup {
  readonly airframe: Airframe;
  /** One per output, without propeller. */
  readonly motors: readonly {readonly constants: MotorConstants; readonly drive: (rpm: number) => Drive}[];
  readonly config: FilterConfig & {
    readonly gyroHz: number;
    readonly loopHz: number;
    readonly poles: number;
    readonly replies: boolean;
    readonly idlePercent: number;
  };
  readonly phases: readonly Phase[];
  readonly seed: number;
  /** Share of replies that are lost, one per motor. */
  readonly loss?: readonly number[];
}

/** Columns of a flight, as the controller logs them. */
export interface FlightColumns {
  readonly logHz: number;
  readonly throttle: number[];
  readonly gyro: readonly number[][];
  readonly filtered: readonly number[][];
  /** Rates that the pilot asks for, deg/s. */
  readonly wanted: readonly number[][];
  /** Electrical rpm; one per motor. Empty without replies. */
  readonly erpm: readonly number[][];
  /** Throttle of each motor, percent. */
  readonly motors: readonly number[][];
  /** Lost replies so far; one per motor. */
  readonly errors: readonly number[][];
  readonly volts: number[];
  readonly amps: number[];
}

/** deg/s of a full stick as this pilot flies. */
const stickDegS = 90;
/** Logging faster fills the memory of a controller too soon. */
const maxLogHz = 2000;
/** Age of a speed when it is used and logged, s: half an electrical turn and a loop. */
const replyAgeS = 0.0012;

export function fly(setup: FlightSetup): FlightColumns {
  const {config, airframe, phases} = setup;
  const rate = config.gyroHz;
  const every = Math.max(1, Math.round(rate / maxLogHz));
  const count = setup.motors.length;
  const random = new Random(setup.seed);
  const craft = new FlyingMotors(setup, random);
  const shake = new GyroShake(airframe, rate, random);
  const filters = [0, 1, 2].map(() => new AxisFilters(filterConfigOf(config), count, rate));
  const loops = filters.map(() => new RateLoop(airframe.loop, rate));
  const columns = emptyColumns(count, config.replies, rate / every);
  const samples = Math.round(secondsOf(phases) * rate);
  for (let i = 0; i < samples; i++) {
    const t = i / rate;
    const throttle = craft.step(throttleAt(phases, t, airframe.hover), t);
    const turning = loops.map((loop) => loop.rate);
    const raw = shake.next(craft.hz, turning);
    const believed = craft.believedHz;
    const filtered = raw.map((x, a) => filters[a]!.run(x, believed, throttle));
    const wanted = craft.sticks.map((stick, a) => stickDegS * stick + stickStep(phases, t, a));
    loops.forEach((loop, a) => loop.step(wanted[a]!, filtered[a]!));
    if (i % every === 0) log(columns, {throttle, raw, filtered, wanted, craft});
  }
  return columns;
}

/** Without replies no notch follows a motor. */
const filterConfigOf = (config: FlightSetup['config']): FilterConfig =>
  config.replies ? config : {...config, notchHarmonics: []};

function emptyColumns(motors: number, replies: boolean, logHz: number): FlightColumns {
  const list = (n: number) => Array.from({length: n}, (): number[] => []);
  return {
    logHz,
    throttle: [],
    gyro: list(3),
    filtered: list(3),
    wanted: list(3),
    erpm: list(replies ? motors : 0),
    motors: list(motors),
    errors: list(replies ? motors : 0),
    volts: [],
    amps: [],
  };
}

interface Logged {
  readonly throttle: number;
  readonly raw: readonly number[];
  readonly filtered: readonly number[];
  readonly wanted: readonly number[];
  readonly craft: FlyingMotors;
}

function log(columns: FlightColumns, {throttle, raw, filtered, wanted, craft}: Logged): void {
  columns.throttle.push(throttle * 100);
  raw.forEach((x, a) => columns.gyro[a]!.push(x));
  filtered.forEach((x, a) => columns.filtered[a]!.push(x));
  wanted.forEach((x, a) => columns.wanted[a]!.push(x));
  columns.erpm.forEach((list, m) => list.push(craft.repliedErpm[m]!));
  columns.errors.forEach((list, m) => list.push(craft.lost[m]!));
  columns.motors.forEach((list, m) => list.push(craft.duties[m]! * 100));
  columns.volts.push(craft.volts);
  columns.amps.push(craft.amps);
}

/** The motors, their pack, and what the replies say of them. */
class FlyingMotors {
  readonly hz: number[];
  readonly duties: number[];
  /** As the last good reply carried it. */
  readonly repliedErpm: number[];
  /** As the controller believes with its pole count. */
  readonly believedHz: number[];
  readonly lost: number[];
  /** Where the pilot's sticks are, −1…1. */
  sticks: readonly number[] = [0, 0, 0];
  volts: number;
  amps = 0;
  private readonly motors: DrivenMotor[];
  private readonly late: number[][];
  private wanted: number;
  private sample = 0;
  private readonly dtS: number;
  private readonly loopEvery: number;

  constructor(
    private readonly setup: FlightSetup,
    private readonly random: Random,
  ) {
    const {motors, airframe, config} = setup;
    const {inertia, drag} = airframe.propeller;
    this.motors = motors.map(({constants}) => {
      const loaded = {...constants, inertia: constants.inertia + inertia, drag: constants.drag + drag};
      const motor = new DrivenMotor(loaded, random);
      motor.state = {omega: 0.35 * airframe.pack.volts * ((constants.kv * 2 * Math.PI) / 60), amps: 0};
      return motor;
    });
    const zero = () => motors.map(() => 0);
    [this.hz, this.duties, this.repliedErpm, this.believedHz, this.lost] = [zero(), zero(), zero(), zero(), zero()];
    this.late = motors.map(() => []);
    this.volts = airframe.pack.volts;
    this.wanted = airframe.hover;
    this.dtS = 1 / config.gyroHz;
    this.loopEvery = Math.max(1, Math.round(config.gyroHz / config.loopHz));
  }

  /** One sample of the gyro; answers the throttle as it is after the pilot's hand and the controller's smoothing. */
  step(throttle: number, t: number): number {
    this.wanted += (throttle - this.wanted) * Math.min(1, 60 * this.dtS);
    this.sticks = [
      0.5 * Math.sin(2 * Math.PI * 0.31 * t),
      0.4 * Math.sin(2 * Math.PI * 0.23 * t + 1),
      0.2 * Math.sin(2 * Math.PI * 0.11 * t),
    ];
    const idle = this.setup.config.idlePercent / 100;
    let drawn = 0;
    this.motors.forEach((motor, m) => {
      const lean = 0.02 * Math.sin(2 * Math.PI * (0.7 + 0.13 * m) * t + 1.7 * m) + 0.01 * this.sticks[m % 2]!;
      const duty = Math.min(1, Math.max(idle, this.wanted + lean));
      const drive = this.setup.motors[m]!.drive(rpmOf(motor.state.omega));
      motor.step({volts: this.volts, throttle: duty, duty, esc: drive}, this.dtS);
      this.duties[m] = duty;
      this.hz[m] = motor.state.omega / (2 * Math.PI);
      drawn += Math.max(0, motor.state.amps * duty);
    });
    const {pack} = this.setup.airframe;
    this.amps = drawn + pack.restAmps;
    this.volts = pack.volts - pack.ohm * this.amps;
    if (this.sample++ % this.loopEvery === 0) this.reply();
    return this.wanted;
  }

  private reply(): void {
    const {config, loss, motors} = this.setup;
    if (!config.replies) return;
    const age = Math.max(1, Math.round(replyAgeS * config.loopHz));
    this.motors.forEach((motor, m) => {
      const queue = this.late[m]!;
      queue.push((motor.measuredRpm() * motors[m]!.constants.poles) / 2);
      if (queue.length <= age) return;
      const erpm = queue.shift()!;
      if (this.random.next() < (loss?.[m] ?? 0)) {
        this.lost[m]!++;
        return;
      }
      this.repliedErpm[m] = erpm > 0 ? Math.round(erpmOfPeriod(decodePeriod(encodePeriod(periodOfErpm(erpm))))) : 0;
      this.believedHz[m] = this.repliedErpm[m] / (config.poles / 2) / 60;
    });
  }
}
