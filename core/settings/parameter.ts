/** What a parameter is made of. */
import type {Variant} from './variant';

/** 2 and 3 are of Cadence (8-bit), 5 to 8 of Meridian (32-bit). */
export type LayoutRevision = 2 | 3 | 5 | 6 | 8;
export const layoutRevisions: readonly LayoutRevision[] = [2, 3, 5, 6, 8];
export const isLayoutRevision = (n: number): n is LayoutRevision => layoutRevisions.some((revision) => revision === n);

export interface Choice {
  readonly value: number;
  readonly label: string;
  /** Seldom wanted: stepping through the choices passes it by, a list offers it. */
  readonly rare?: true;
}

/** Where and how one layout revision stores a parameter. */
export interface Storage {
  readonly offset: number;
  readonly width: 1 | 2;
  /** Value = (stored + bias) × scale. */
  readonly scale?: number;
  readonly bias?: number;
  /** Values that are stored under a number of their own, which the rule above would give to no other. */
  readonly codes?: Readonly<Record<number, number>>;
  /** Values this revision cannot hold, although newer ones can. */
  readonly lacks?: readonly number[];
}

export interface ParameterDefinition {
  readonly key: ParameterKey;
  readonly name: string;
  /** A few words under the name. */
  readonly aside: string;
  readonly unit: string;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  readonly default: number;
  /** Fixed values to choose from; without them any value on the steps between min and max. */
  readonly choices?: readonly Choice[];
  /** Marks on the scale of the dot strip. */
  readonly ticks: readonly number[];
  /** Scale of the dot strip, where it is narrower than min…max. */
  readonly scale?: {readonly from: number; readonly to: number};
  /** Usual spread between calibrated ESCs; a difference inside it is expected. */
  readonly calibratedSpread?: number;
  /** Whether values differ from motor to motor by their nature: rotation, calibrated end points. */
  readonly perMotor?: boolean;
  /** What it does, in a sentence. */
  readonly help: string;
  /** Names of the two ends, where they are not "too low" and "too high". */
  readonly ends?: readonly [string, string];
  /** What goes wrong at the low end and at the high end. */
  readonly tooLow: string;
  readonly tooHigh: string;
  /** What the pilot sees when one ESC alone differs. */
  readonly odd: string;
  /** Firmware variants that have it; all when left out. */
  readonly variants?: readonly Variant[];
  readonly storage: Readonly<Partial<Record<LayoutRevision, Storage>>>;
}

export interface ParameterGroup {
  readonly name: string;
  readonly parameters: readonly ParameterDefinition[];
}

export type ParameterKey =
  | 'rotation'
  | 'timing'
  | 'pwm'
  | 'pwmLow'
  | 'pwmHigh'
  | 'demag'
  | 'activeBraking'
  | 'brakeStrength'
  | 'stopBrake'
  | 'stopBrakeStrength'
  | 'startLow'
  | 'startHigh'
  | 'lowSpeedLimit'
  | 'spinUpLimit'
  | 'throttleMin'
  | 'throttleCentre'
  | 'throttleMax'
  | 'currentLimit'
  | 'temperatureLimit'
  | 'lowVoltageLimit'
  | 'toneLoudness'
  | 'lostToneLoudness'
  | 'lostToneWait'
  | 'melody'
  | 'replyExtras'
  | 'governorP'
  | 'governorI';
