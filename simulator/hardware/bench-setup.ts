/** What a bench is made of, and who keeps what outlives a power cut. */
import type {ControllerIdentity, Road, WireConfig} from '@core/link/operations';
import type {MotorConstants} from '@core/motor/motor';
import type {CockpitSetup} from './hands/cockpit';
import type {EscHardware} from './esc/esc';
import type {SettingValues} from '@core/link/setting-shapes';
import type {AirframeKind} from './controller/held-mixer';
import type {Supply} from './esc/power-train';

/** What a flight controller's flash holds without power. */
export interface KeptLoader {
  readonly application: Uint8Array;
  readonly isActive: boolean;
  /** The loader does not tell which board it is on. */
  readonly isUnnamed?: boolean;
}

export interface BenchSetup {
  readonly seed: number;
  readonly escs: readonly {
    readonly hardware: EscHardware;
    readonly flash: Uint8Array;
    readonly motor: MotorConstants;
    readonly wiredClockwise: boolean;
  }[];
  readonly controller: {
    readonly identity: ControllerIdentity;
    readonly saved: WireConfig;
    /** Settings beside the fields that were set and saved; as they come with the firmware where left out. */
    readonly settings?: SettingValues | undefined;
    readonly loader: KeptLoader;
    /** Highest clock at which this one runs, MHz; as high as one likes where left out. */
    readonly highestMhz?: number;
  };
  readonly supply: Omit<Supply, 'on'>;
  readonly batteryOn: boolean;
  readonly cycles: number;
  /** Arm that the motor of each output sits on; its own number where left out. */
  readonly arms?: readonly number[];
  /** Airframe for which the controller mixes, where another than its arms is set. */
  readonly mixes?: AirframeKind;
  /** Board, transmitter and receiver as they really are; the usual ones where left out. */
  readonly cockpit?: CockpitSetup;
  /** Where the cable is plugged in. */
  readonly road: Road;
}

/** Told of everything that outlives a power cut, so that a shell may keep it. */
export interface BenchKeeper {
  page(output: number, page: number, bytes: Uint8Array): void;
  controller(config: WireConfig, settings: SettingValues): void;
  loader?(loader: KeptLoader): void;
  power(on: boolean, cycles: number): void;
  /** A request that changes something, was carried out before and is carried out again. */
  repeated?(argument: unknown): void;
}
