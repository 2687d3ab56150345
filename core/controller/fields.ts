/** The planned fields of a flight controller: their names, how they read, and where two configurations differ. */
import {protocolName} from '../dshot/protocol';
import {lowPassName, type LowPassKind} from '../filters/section';
import {armingText} from './arming-text';
import {optionalFields, type ControllerFields, type ControllerPlan} from './plan';

export interface ControllerDifference {
  readonly field: keyof ControllerPlan;
  readonly from: string;
  readonly to: string;
}

export const controllerFields: readonly {readonly field: keyof ControllerPlan; readonly name: string}[] = [
  {field: 'protocol', name: 'Motor protocol'},
  {field: 'replies', name: 'Bidirectional replies'},
  {field: 'extendedReplies', name: 'Extended replies'},
  {field: 'poles', name: 'Motor poles'},
  {field: 'loopHz', name: 'Control loop'},
  {field: 'arms', name: 'Arm of each output'},
  {field: 'props', name: 'Rotation direction, props'},
  {field: 'idlePercent', name: 'Idle throttle'},
  {field: 'notchHarmonics', name: 'Motor-speed notches'},
  {field: 'notchWeights', name: 'Strength of those notches'},
  {field: 'notchQ', name: 'Notch width, Q'},
  {field: 'notchMinHz', name: 'Lowest notch frequency'},
  {field: 'notchFadeHz', name: 'Notch fade-in'},
  {field: 'speedLowPassHz', name: 'Smoothing of speeds'},
  {field: 'movingNotches', name: 'Moving notches'},
  {field: 'movingQ', name: 'Moving notch width, Q'},
  {field: 'movingMinHz', name: 'Moving notches from'},
  {field: 'movingMaxHz', name: 'Moving notches up to'},
  {field: 'gyroLowPass', name: 'Gyro low-pass kind'},
  {field: 'gyroLowPassHz', name: 'Gyro low-pass'},
  {field: 'gyroLowPassFullHz', name: 'Gyro low-pass at full throttle'},
  {field: 'dLowPass', name: 'D low-pass kind'},
  {field: 'dLowPassHz', name: 'D low-pass'},
  {field: 'dLowPassFullHz', name: 'D low-pass at full throttle'},
  {field: 'clockMhz', name: 'Clock of the processor'},
  {field: 'mounting', name: 'Mounting of the board'},
  {field: 'accelerometer', name: 'Accelerometer'},
  {field: 'receiver', name: 'Receiver'},
  {field: 'switches', name: 'Switches'},
  {field: 'failSafe', name: 'Fail-safe'},
];

export const controllerFieldName = (field: keyof ControllerPlan): string =>
  controllerFields.find((f) => f.field === field)!.name;

export function formatControllerField<F extends keyof ControllerPlan>(field: F, value: ControllerPlan[F]): string {
  switch (field) {
    case 'protocol':
      return protocolName[value as ControllerPlan['protocol']];
    case 'replies':
    case 'accelerometer':
    case 'extendedReplies':
      return value ? 'on' : 'off';
    case 'loopHz':
      return `${(value as number) / 1000} kHz`;
    case 'notchHarmonics':
      return (value as number[]).length ? (value as number[]).map((h) => `${h}×`).join(' ') : 'none';
    case 'arms':
      return (value as number[]).map((arm) => arm + 1).join(' ');
    case 'mounting':
    case 'receiver':
    case 'switches':
    case 'failSafe':
      return armingText({[field]: value});
    case 'notchWeights':
      return weightsText(value as readonly number[]);
    case 'gyroLowPass':
    case 'dLowPass':
      return lowPassName[value as LowPassKind];
    case 'clockMhz':
      return value === 0 ? 'as rated' : `${value as number} MHz`;
    case 'speedLowPassHz':
      return value === 0 ? 'none' : hertz(value);
    case 'gyroLowPassFullHz':
    case 'dLowPassFullHz':
      return value === 0 ? 'fixed' : hertz(value);
    default:
      return `${value as string | number}${units[field] ?? ''}`;
  }
}

const units: Partial<Record<keyof ControllerPlan, string>> = {
  notchMinHz: ' Hz',
  notchFadeHz: ' Hz',
  movingMinHz: ' Hz',
  movingMaxHz: ' Hz',
  gyroLowPassHz: ' Hz',
  dLowPassHz: ' Hz',
  idlePercent: ' %',
};
const hertz = (value: unknown) => `${value as number} Hz`;
/** Lists of strengths that mean the same read the same: whole ones at the end say nothing. */
function weightsText(weights: readonly number[]): string {
  const told = weights.slice(0, weights.findLastIndex((w) => w !== 100) + 1);
  return told.length ? told.map((w, i) => `${i + 1}× ${w} %`).join(' ') : 'whole';
}

/** Fields in which two configurations differ, as they are shown. One that either does not have is no difference. */
export const controllerDifferences = (from: ControllerFields, to: ControllerFields): ControllerDifference[] =>
  controllerFields.flatMap(({field}) => {
    const [a, b] = [from[field], to[field]];
    if (a === undefined || b === undefined) return [];
    const [was, is] = [formatControllerField(field, a), formatControllerField(field, b)];
    return was === is ? [] : [{field, from: was, to: is}];
  });

/** Planned fields that the firmware of a flight controller does not have. */
export const lackedFields = (config: ControllerFields, plan: ControllerPlan): readonly (keyof ControllerPlan)[] =>
  optionalFields.filter((field) => config[field] === undefined && plan[field] !== undefined);
