/** What the proofs of turning motors rest on: replies, how each motor moves, and which way each was seen to turn. */
import {
  controllerFirmware,
  controllerIs,
  escsFound,
  fieldsFound,
  fieldsPlanned,
  firmwareFound,
  gyroFound,
  motorsReplaced,
  rules,
  settingsFound,
  type GroundsQuestion,
  type ProofRow,
} from '../../bench/grounds';
import {replacedCount} from '../../bench/replaced';
import type {ControllerPlan} from '../../controller/plan';
import type {KnownGround} from '../../proof/ground';
import {parameterGroups, type ParameterDefinition} from '../../settings/definitions';

/** Fields of the flight controller that decide whether replies come. */
export const signalFields: readonly (keyof ControllerPlan)[] = [
  'protocol',
  'replies',
  'loopHz',
  'poles',
  'idlePercent',
];

/** Fields that load its processor besides: filters, a raised clock, and what ESCs are told to tell. */
const loadFields: readonly (keyof ControllerPlan)[] = [
  'clockMhz',
  'extendedReplies',
  'notchHarmonics',
  'notchWeights',
  'movingNotches',
  'gyroLowPass',
  'dLowPass',
];

/** Settings that say nothing about how a motor moves. */
const still = new Set(['Sounds', 'Replies', 'Helicopter']);
const moving = new Set(parameterGroups.flatMap((g) => (still.has(g.name) ? [] : g.parameters.map((p) => p.key))));
const actsOnMotion = ({key}: ParameterDefinition): boolean => moving.has(key);

export const repliesRow: ProofRow = {
  kind: 'replies',
  restsOn: ['firmware', 'settings', 'controller'],
  grounds: (q) => [
    rules(),
    ...escsFound(q),
    ...firmwareFound(q),
    ...motorsAre(q),
    ...controllerIs(q),
    ...controllerFirmware(q),
    ...fieldsFound(q, [...signalFields, ...loadFields]),
    ...gyroFound(q),
    ...fieldsPlanned(q, signalFields),
  ],
};

export const motionRow: ProofRow = {
  kind: 'motion',
  restsOn: ['firmware', 'settings'],
  grounds: (q) => [
    rules(),
    ...escsFound(q),
    ...firmwareFound(q),
    ...settingsFound(q, actsOnMotion),
    ...motorsAre(q),
    ...fieldsPlanned(q, ['poles', 'idlePercent']),
  ],
};

/** The motors as a person entered and mounted them. */
const motorsAre = (q: GroundsQuestion): KnownGround[] => [
  {key: 'motor poles', value: q.craft.motor.poles, name: 'the pole count of the motors'},
  {key: 'motor kv', value: q.craft.motor.kv, name: 'the KV of the motors'},
  motorsReplaced(q),
];

/** What was seen of one output. @param arm that its motor was seen on: a motor is told by its arm, whatever is planned. */
export function sightingGrounds(q: GroundsQuestion, output: number, arm: number): readonly KnownGround[] {
  const rotation = ({key}: ParameterDefinition) => key === 'rotation';
  return [
    rules(),
    ...[...escsFound(q), ...settingsFound(q, rotation)].flatMap((g) => ofMotor(g, output)),
    {
      key: 'motor replaced',
      value: replacedCount(q.replaced, `motor ${arm}`),
      name: 'the motor',
      sentence: () => `motor ${output + 1} was replaced`,
    },
    ...mappedArm(q, output),
  ];
}

/** Of a list of motors, the value of one. */
function ofMotor(ground: KnownGround, output: number): KnownGround[] {
  const {value, name, sentence, unsure} = ground;
  const own = (value as readonly (string | number | boolean | null)[])[output];
  if (own === null || own === undefined) return [];
  return [
    {
      ...ground,
      value: own,
      name: `${name} of motor ${output + 1}`,
      unsure: [unsure?.[output] === true],
      ...(sentence && {sentence: (was: string, is: string) => sentence(was, is, output)}),
    },
  ];
}

/** The arm that the flight controller takes an output for. */
function mappedArm({found}: GroundsQuestion, output: number): KnownGround[] {
  const arm = found?.controller?.config.arms[output];
  if (arm === undefined) return [];
  return [
    {key: 'mapped arm', value: arm, name: `the arm of output ${output + 1}`, shown: (v) => `arm ${Number(v) + 1}`},
  ];
}
