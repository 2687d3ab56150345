/** What to try when a held output did not turn one motor, and only one, as it should. */
import type {Settings} from '../../settings/page';
import {definitionOf} from '../../settings/definitions';
import {isDigital, type Protocol} from '../../dshot/protocol';
import {mayNeverArm, neverArmsText} from '../../settings/low-end';
import type {SpeedSample} from '../hold/speed-sample';

/** What a person saw instead of one motor that turns. */
export const unexpectedKinds = ['nothing moved', 'it stuttered', 'more than one moved'] as const;
export type UnexpectedKind = (typeof unexpectedKinds)[number];

export interface Unexpected {
  readonly kind: UnexpectedKind;
  readonly output: number;
  /** Settings of the ESC on that output; undefined where it was not read. */
  readonly settings: Settings | undefined;
  /** What carries the throttle. */
  readonly protocol: Protocol;
  /** Whether an ESC answered on that output in the last survey. */
  readonly answered: boolean;
  /** The trace of the hold; empty without replies. */
  readonly samples: readonly SpeedSample[];
}

export interface Advice {
  /** What it means, as far as was measured. */
  readonly meaning: string;
  /** What to try, in the order in which to try it. */
  readonly steps: readonly string[];
  /** Start-up powers to plan for this ESC, µs. */
  readonly startPower: {readonly startLow: number; readonly startHigh: number} | undefined;
}

/** Step by which start-up power is raised when a motor stutters, µs: 25 to 50 are common practice. */
const raiseUs = 25;

export function adviceOn(seen: Unexpected): Advice {
  switch (seen.kind) {
    case 'nothing moved':
      return nothingMoved(seen);
    case 'it stuttered':
      return stuttered(seen);
    case 'more than one moved':
      return several(seen);
  }
}

function nothingMoved({output, answered, samples, settings, protocol}: Unexpected): Advice {
  const fastest = samples.reduce((most, s) => Math.max(most, s.rpm), 0);
  if (fastest > 300)
    return {
      meaning: `The replies of output ${output + 1} report up to ${Math.round(fastest)} rpm: something turned.`,
      steps: ['Hold again and look at every arm; lay a finger on each motor, propellers off.'],
      startPower: undefined,
    };
  const name = `output ${output + 1}`;
  const lowEndUs = settings?.throttleMin;
  if (answered && !isDigital(protocol) && lowEndUs !== undefined && mayNeverArm(lowEndUs))
    return {
      meaning: `${neverArmsText(lowEndUs)} That ESC answered in the survey; its motor did not turn.`,
      steps: [
        `Calibrate the end points, or plan the throttle minimum of motor ${output + 1} 20 µs higher, and hold again.`,
        'Listen at power-up: an ESC that waits for zero throttle does not sound its last tones.',
      ],
      startPower: undefined,
    };
  return {
    meaning: answered
      ? `An ESC answered on ${name} in the survey, so signal and bootloader are there; its motor did not turn.`
      : `No ESC answered on ${name} in the last survey.`,
    steps: answered
      ? [
          'Hold again until 6 %: some motors start late.',
          'Battery off, turn the motor by hand: it must not rub or block.',
          'Look at its three motor wires and their joints; one that is open lets a motor twitch or stand.',
          'Swap its signal wire with a neighbour: if the fault moves with the wire it is the wire, else the ESC.',
        ]
      : ['Look at power and signal wire of that ESC, then survey again.', 'Carry on with the other outputs meanwhile.'],
    startPower: undefined,
  };
}

function stuttered({settings}: Unexpected): Advice {
  const [low, high] = [settings?.startLow, settings?.startHigh];
  const raised = (key: 'startLow' | 'startHigh', value: number) => Math.min(definitionOf(key).max, value + raiseUs);
  const startPower =
    low !== undefined && high !== undefined
      ? {startLow: raised('startLow', low), startHigh: raised('startHigh', high)}
      : undefined;
  return {
    meaning:
      low !== undefined && high !== undefined
        ? `It did not catch with start-up powers of ${low} and ${high} µs.`
        : 'Its start-up powers were not read.',
    steps: [
      'Battery off, turn it by hand: a magnet or a bearing that rubs stutters too.',
      `Raise both start-up powers by ${raiseUs} µs, and again if that is not enough.`,
    ],
    startPower: startPower && (startPower.startLow !== low || startPower.startHigh !== high) ? startPower : undefined,
  };
}

const several = ({output}: Unexpected): Advice => ({
  meaning: `Only output ${output + 1} was commanded; another motor still turned from before, or two ESCs are on the same wire.`,
  steps: [
    'Wait until every motor has stopped, then hold again.',
    'If two turn again, look for two signal wires that touch or share a pad.',
    'Turn no motor with propellers on until this is found: a craft whose motors share a wire cannot be flown.',
  ],
  startPower: undefined,
});
