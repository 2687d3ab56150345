/** What the shell may do to the stand-in bench beside its cable: mishaps, pace, and looking at it. */
import type {WireRecording} from '@core/capture/read/recording';
import type {WireConfig} from '@core/link/operations';
import type {Road} from '@core/link/operations';

/** How the simulated hand can hold the craft. */
export type Pose = 'level' | 'nose down' | 'right side down' | 'on its left side' | 'upside down' | 'on the bench';

export type BenchPace = 'real' | 'ten' | 'max';

/** The benches that ship: by the craft they stand for, one with eight ESCs for craft that someone makes, and one with a single ESC. */
const benchIds = ['juniper', 'sorrel', 'alder', 'bramble', 'octo', 'loose'] as const;
export type BenchId = (typeof benchIds)[number];
export const isBenchId = (id: string): id is BenchId => benchIds.some((known) => known === id);

/** What an eye would see of one output. */
export interface TurningOutput {
  /** Arm that the motor sits on. */
  readonly arm: number;
  readonly turning: boolean;
  /** Throttle that is commanded, 0…1. */
  readonly throttle: number;
  readonly clockwise: boolean;
  readonly smoke: boolean;
}

export interface BenchState {
  readonly pace: BenchPace;
  readonly batteryOn: boolean;
  readonly outputs: number;
  /** Where the cable is plugged in. */
  readonly road: Road;
  /** Whether a single-wire adapter lies beside this bench. */
  readonly hasAdapter: boolean;
  /** Output the adapter is clipped to. */
  readonly clippedTo: number | undefined;
  readonly burnt: readonly number[];
  /** Whether the simulated transmitter is on, and its switches by channel. */
  readonly transmitterOn: boolean;
  readonly switches: Readonly<Record<number, number>>;
}

/** Mishaps that are switched on and off; the rest happen once. */
export interface BenchMishaps {
  /** Chance that a byte on the cable is lost, and the same that it is flipped. */
  readonly cableNoise: number;
  /** Share of replies spoilt on the motor wires. */
  readonly wireNoise: number;
  /** Share of replies lost to what all motors together do to the supply, at full throttle. */
  readonly supplyNoise: number;
  /** Outputs whose signal wire sits loose. */
  readonly looseWires: readonly number[];
  /** Longest transfer the hub lets through, bytes; Infinity for a good one. */
  readonly longestTransfer: number;
  /** Outputs whose ESC does not answer. */
  readonly silent: readonly number[];
  /** Outputs whose ESC has a worn page in its application. */
  readonly worn: readonly number[];
  /** Whether the pack is nearly empty. */
  readonly batteryLow: boolean;
  /** Another program holds the port. */
  readonly portHeld: boolean;
}
export const noMishaps: BenchMishaps = {
  cableNoise: 0,
  wireNoise: 0,
  supplyNoise: 0,
  looseWires: [],
  longestTransfer: Infinity,
  silent: [],
  worn: [],
  batteryLow: false,
  portHeld: false,
};

/** Something that happens by itself, at a moment of the work and not of the clock. */
export interface ArmedMishap {
  readonly what: 'battery-off' | 'cable-out' | 'controller-restarts';
  /** Output whose ESC is being written, or the flight controller itself. */
  readonly output: number | 'controller';
  /** When this many of its pages have been touched since it was armed. */
  readonly pages: number;
}

/** What a hand does at the simulated transmitter. */
export type TransmitterAct =
  | {readonly what: 'power'; readonly on: boolean}
  /** Moves one stick to its growing end and back. */
  | {readonly what: 'move'; readonly stick: 'roll' | 'pitch' | 'throttle' | 'yaw'}
  /** Sweeps all sticks from end to end several times, then lets go. */
  | {readonly what: 'sweep'}
  /** Position −1, 0 or 1 of the switch on a channel. */
  | {readonly what: 'switch'; readonly channel: number; readonly position: number}
  /** Sets its ends and centre to 1000, 1500 and 2000 µs. */
  | {readonly what: 'trim'};

export interface BenchControl {
  /** Records the motor wires for so long, ms of the bench's own time. */
  record(ms: number): Promise<WireRecording>;
  /** The hand holds the craft otherwise. */
  pose(pose: Pose): Promise<void>;
  transmitter(act: TransmitterAct): Promise<void>;
  /** Arms a mishap; it happens once. */
  arm(mishap: ArmedMishap): Promise<void>;
  /** Opens the port of a bench. Resolves to false when another program holds it. @param stepped by the page's clock. */
  plug(port: MessagePort, bench: BenchId, stepped: boolean): Promise<boolean>;
  setPace(pace: BenchPace): Promise<void>;
  state(): Promise<BenchState>;
  setBattery(on: boolean): Promise<void>;
  pullCable(): Promise<void>;
  restartController(): Promise<void>;
  /** The flight controller's firmware answers nobody from now on. */
  hangController(): Promise<void>;
  /** Somebody else's firmware is on the flight controller, and its loader tells no board. */
  strangeController(): Promise<void>;
  /** Another flight controller of the same make is in its place, as its maker set it. */
  replaceController(): Promise<void>;
  /** Someone plugs the cable in with the flight controller's button held, or its pads bridged. */
  plugInByHand(): Promise<void>;
  /** Another program changes the settings of an ESC. */
  meddle(output: number): Promise<void>;
  /** Someone mounts a motor with another number of magnets. */
  mountMotor(output: number, poles: number): Promise<void>;
  plugInto(road: Road): Promise<void>;
  clip(output: number | undefined): Promise<void>;
  setMishaps(mishaps: BenchMishaps): Promise<void>;
  /** What the flight controller keeps without power. */
  configuration(): Promise<WireConfig>;
  /** What the flight controller would start, and whether its loader runs. */
  controllerFirmware(): Promise<{readonly version: string | undefined; readonly isInLoader: boolean}>;
  /** Fresh copy of an ESC's whole flash. */
  flash(output: number): Promise<Uint8Array>;
  look(): Promise<readonly TurningOutput[]>;
  /** Sets the bench back to its first state. */
  reset(): Promise<void>;
}
