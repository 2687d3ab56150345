/** The planned fields of a flight controller: their names, how they read, and where two configurations differ. */
import {protocolName} from '../dshot/protocol';
import {optionalFields, type ControllerFields, type ControllerPlan} from './plan';

export interface ControllerDifference {
  readonly field: keyof ControllerPlan;
  readonly from: string;
  readonly to: string;
}

export const controllerFields: readonly {readonly field: keyof ControllerPlan; readonly name: string}[] = [
  {field: 'protocol', name: 'Motor protocol'},
  {field: 'replies', name: 'Bidirectional replies'},
  {field: 'poles', name: 'Motor poles'},
  {field: 'loopHz', name: 'Control loop'},
  {field: 'arms', name: 'Arm of each output'},
  {field: 'props', name: 'Rotation sense, props'},
  {field: 'idlePercent', name: 'Idle throttle'},
  {field: 'notchHarmonics', name: 'Motor-speed notches'},
  {field: 'notchQ', name: 'Notch width, Q'},
  {field: 'notchMinHz', name: 'Lowest notch frequency'},
  {field: 'movingNotches', name: 'Moving notches'},
  {field: 'gyroLowPassHz', name: 'Gyro low-pass'},
];

export const controllerFieldName = (field: keyof ControllerPlan): string =>
  controllerFields.find((f) => f.field === field)!.name;

export function formatControllerField<F extends keyof ControllerPlan>(field: F, value: ControllerPlan[F]): string {
  switch (field) {
    case 'protocol':
      return protocolName[value as ControllerPlan['protocol']];
    case 'replies':
      return value ? 'on' : 'off';
    case 'loopHz':
      return `${(value as number) / 1000} kHz`;
    case 'notchHarmonics':
      return (value as number[]).length ? (value as number[]).map((h) => `${h}×`).join(' ') : 'none';
    case 'arms':
      return (value as number[]).map((arm) => arm + 1).join(' ');
    case 'notchMinHz':
    case 'gyroLowPassHz':
      return `${value as number} Hz`;
    case 'idlePercent':
      return `${value as number} %`;
    default:
      return String(value);
  }
}

/** Fields in which two configurations differ, as they are shown. One that either does not have is no difference. */
export const controllerDifferences = (from: ControllerFields, to: ControllerFields): ControllerDifference[] =>
  controllerFields.flatMap(({field}) => {
    const [a, b] = [from[field], to[field]];
    if (a === undefined || b === undefined) return [];
    const [was, is] = [formatControllerField(field, a), formatControllerField(field, b)];
    return was === is ? [] : [{field, from: was, to: is}];
  });

/** Fields that the firmware of a flight controller does not have. */
export const lackedFields = (config: ControllerFields): readonly (keyof ControllerPlan)[] =>
  optionalFields.filter((field) => config[field] === undefined);
