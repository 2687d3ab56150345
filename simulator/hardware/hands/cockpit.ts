/** What stands between a person and arming: the hand, the transmitter, the receiver, and the state they make. */
import {throttleValue, valueThrottle} from '@core/dshot/command';
import type {Argument, ArmingBlock, WireConfig} from '@core/link/operations';
import type {SettingValues} from '@core/link/setting-shapes';
import {Random} from '../../random';
import {Hand} from './hand';
import {Receiver, type ReceiverSetup} from './receiver';
import {Transmitter, type TransmitterSetup} from './transmitter';

export interface CockpitSetup {
  /** How the board really sits in the craft, degrees: what its configuration should say. */
  readonly mounted: {readonly roll: number; readonly pitch: number; readonly yaw: number};
  readonly transmitter: TransmitterSetup;
  readonly receiver: ReceiverSetup;
  /** What its accelerometer measures beyond what there is, g, in the board's axes; nothing where left out. */
  readonly biasG?: readonly [number, number, number];
}

export const usualCockpit: CockpitSetup = {
  mounted: {roll: 0, pitch: 0, yaw: 0},
  transmitter: {
    channel: {roll: 1, pitch: 2, throttle: 3, yaw: 4},
    reversed: [],
    ...{lowUs: 1000, centreUs: 1500, highUs: 2000},
    channels: 8,
  },
  receiver: {rateHz: 111, noiseUs: 0.5, loss: 0.002},
  biasG: [0.024, -0.031, 0.012],
};

export type CockpitCall = {
  [O in CockpitOperation]: {readonly operation: O; readonly argument: Argument<O>};
}[CockpitOperation];
type CockpitOperation = 'attitude.read' | 'receiver.frames' | 'arming.state';

const ofCockpit: ReadonlySet<string> = new Set<CockpitOperation>(['attitude.read', 'receiver.frames', 'arming.state']);
export const isOfCockpit = (call: {readonly operation: string}): call is CockpitCall => ofCockpit.has(call.operation);

/** What a controller takes for no throttle, µs, and for level, degrees. */
const [noThrottleUs, levelDeg] = [1050, 25];
/** Down from idle to nothing, ms. */
const landMs = 5000;

export class Cockpit {
  readonly hand: Hand;
  readonly transmitter: Transmitter;
  readonly receiver: Receiver;
  /** See {@link CockpitSetup}. */
  readonly biasG: readonly [number, number, number];
  /** Requests that were answered: someone is looking at the hand and the sticks. */
  asked = 0;

  constructor(setup: CockpitSetup, seed: number) {
    this.biasG = setup.biasG ?? [0, 0, 0];
    this.hand = new Hand(new Random(seed ^ 0x4a0d), setup.mounted);
    this.transmitter = new Transmitter(setup.transmitter);
    this.receiver = new Receiver(this.transmitter, setup.receiver, new Random(seed ^ 0x7a1e));
  }

  /** Answers a request; a pair of code and text where it is refused. */
  take(
    call: CockpitCall,
    {config, settings}: {readonly config: WireConfig; readonly settings: SettingValues},
    nowMs: number,
  ): {value: unknown} | {code: string; text: string} {
    this.asked++;
    switch (call.operation) {
      case 'attitude.read':
        if (config.accelerometer === false)
          return {code: 'off', text: 'The accelerometer is off in the configuration.'};
        return {value: {atMs: nowMs, g: this.measured(settings, nowMs)}};
      case 'receiver.frames':
        return {value: this.receiver.frames(call.argument.since, call.argument.most, nowMs)};
      case 'arming.state':
        return {value: {armed: false, blocks: this.blocks(config, nowMs)}};
    }
  }

  /** What its accelerometer measures, g, without what it was told to take off. */
  private measured(settings: SettingValues, nowMs: number): number[] {
    const off = ['x', 'y', 'z'].map((axis) => Number(settings[`level.offset_${axis}`] ?? 0) / 1000);
    return this.hand.acceleration(nowMs).map((g, axis) => g + this.biasG[axis]! - off[axis]!);
  }

  /** What a hold that heeds the receiver still gets, as a share of what it commands: 1 while frames come. */
  share(config: WireConfig, nowMs: number): number {
    const {action, afterMs} = config.failSafe ?? {action: 'drop', afterMs: 400};
    const over = this.receiver.silentMs(nowMs) - afterMs;
    if (over <= 0 || action === 'hold') return 1;
    return action === 'drop' ? 0 : Math.max(0, 1 - over / landMs);
  }

  private blocks(config: WireConfig, nowMs: number): ArmingBlock[] {
    const us = this.receiver.newest(nowMs);
    const arm = config.switches?.filter((s) => s.use === 'arm') ?? [];
    const throttle = us?.[(config.receiver?.throttle ?? 3) - 1] ?? 0;
    const {roll, pitch} = this.hand.angles(nowMs);
    const isOn = arm.some((s) => (us?.[s.channel - 1] ?? 0) >= s.fromUs && (us?.[s.channel - 1] ?? 0) <= s.toUs);
    const silentMs = this.receiver.silentMs(nowMs);
    const found: [ArmingBlock, boolean][] = [
      ['held', true],
      ['no-switch', arm.length === 0],
      ['switch-on', isOn],
      ['no-frames', silentMs > 100],
      ['throttle-high', throttle > noThrottleUs],
      ['tilted', Math.max(Math.abs(roll), Math.abs(pitch)) > levelDeg],
      ['fail-safe', silentMs > (config.failSafe?.afterMs ?? 400)],
    ];
    return found.flatMap(([block, is]) => (is ? [block] : []));
  }
}

/** What a motor still gets of a commanded value. */
export const sharedValue = (value: number, share: number): number =>
  share === 1 ? value : throttleValue(valueThrottle(value) * share);
