/** The part of a plan that a kind of proof is about. A proof of another plan is void. */
import {utf8ToBytes} from '@noble/hashes/utils.js';
import {canonicalJson} from '../canonical-json';
import {crc32} from '../checksums';
import {type Plan} from '../craft/craft';
import {firmwareName} from '../firmware/firmware-plan';
import {type ControllerPlan} from '../controller/plan';
import {plannedFilters} from '../tuning/noise-forecast';
import type {ProofKind} from './proof';

/** Fields of the flight controller that decide whether replies come. */
export const signalFields: readonly (keyof ControllerPlan)[] = [
  'protocol',
  'replies',
  'loopHz',
  'poles',
  'idlePercent',
];

const digest = (value: unknown) =>
  crc32(utf8ToBytes(canonicalJson(value)))
    .toString(16)
    .padStart(8, '0');

/** A text that is equal for equal plans, of the part that `kind` proves. */
export function plannedFor(kind: ProofKind, {firmware, parameters, controller}: Plan): string {
  switch (kind) {
    case 'pages':
      return `${firmwareName(firmware)}${firmware.file === undefined ? '' : ` ${firmware.file}`}`;
    case 'motion':
      return digest([firmware, parameters, controller.poles, controller.idlePercent]);
    case 'replies':
      return digest([firmware, signalFields.map((field) => controller[field])]);
    case 'mounting':
      return digest(controller.mounting ?? null);
    case 'receiver':
      return digest(controller.receiver ?? null);
    case 'fail-safe':
      return digest([controller.failSafe ?? null, firmware]);
    case 'noise':
      return digest([parameters, plannedFilters(controller)]);
    default:
      return digest([parameters, controller]);
  }
}
