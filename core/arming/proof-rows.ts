/** What the proofs of Arming rest on. */
import {
  controllerFirmware,
  controllerIs,
  escsFound,
  fieldsFound,
  fieldsPlanned,
  firmwareFound,
  offsetsFound,
  rules,
  type ProofRow,
} from '../bench/grounds';

export const mountingRow: ProofRow = {
  kind: 'mounting',
  restsOn: ['arming'],
  grounds: (q) => [
    rules(),
    ...controllerIs(q),
    ...fieldsFound(q, ['mounting', 'accelerometer']),
    ...fieldsPlanned(q, ['mounting']),
  ],
};

export const receiverRow: ProofRow = {
  kind: 'receiver',
  restsOn: ['arming'],
  grounds: (q) => [rules(), ...controllerIs(q), ...fieldsFound(q, ['receiver']), ...fieldsPlanned(q, ['receiver'])],
};

export const failSafeRow: ProofRow = {
  kind: 'fail-safe',
  restsOn: ['firmware', 'arming'],
  grounds: (q) => [
    rules(),
    ...escsFound(q),
    ...firmwareFound(q),
    ...controllerIs(q),
    ...controllerFirmware(q),
    ...fieldsFound(q, ['failSafe', 'receiver']),
    ...fieldsPlanned(q, ['failSafe', 'receiver']),
  ],
};

export const levelRow: ProofRow = {
  kind: 'level',
  restsOn: ['arming', 'controller'],
  grounds: (q) => [
    rules(),
    ...controllerIs(q),
    ...fieldsFound(q, ['mounting', 'accelerometer']),
    ...fieldsPlanned(q, ['mounting']),
    ...offsetsFound(q),
  ],
};
