/** Why a motor differs from its siblings: causes in the order of how well what was found explains them, each with its cure. */
import type {MotorReport, MotionFinding} from '../../motion/report';
import {isEstimate} from '../../motion/time-constants';
import {definitionOf, type ParameterKey} from '../../settings/definitions';
import type {Settings} from '../../settings/page';
import {median} from '../../numbers/median';

export interface Cure {
  readonly key: ParameterKey;
  /** Value for this motor. */
  readonly value: number;
}

export interface Cause {
  /** What it is, as a sentence. */
  readonly text: string;
  /** What was found that speaks for it. */
  readonly evidence: string;
  /** A change of the plan that cures it; undefined where only a hand can. */
  readonly cure: Cure | undefined;
}

interface CauseQuestion {
  readonly motors: readonly MotorReport[];
  /** Settings of each motor's ESC as they were found; undefined where they were not read. */
  readonly settings: readonly (Settings | undefined)[];
}

/** Settings that act on what a finding is about, the likeliest first, and which way the odd one lies when it is to blame. */
const toBlame: Readonly<
  Partial<Record<MotionFinding['kind'], readonly (readonly [ParameterKey, 'less' | 'more' | 'other'])[]>>
> = {
  'odd-coast-down': [
    ['activeBraking', 'other'],
    ['brakeStrength', 'other'],
  ],
  'odd-spool-up': [
    ['timing', 'other'],
    ['demag', 'other'],
    ['currentLimit', 'less'],
    ['pwm', 'other'],
  ],
  'odd-start': [
    ['startHigh', 'less'],
    ['startLow', 'less'],
    ['pwm', 'other'],
  ],
  'odd-kv': [['timing', 'other']],
  stutter: [
    ['startHigh', 'less'],
    ['startLow', 'less'],
    ['lowSpeedLimit', 'less'],
  ],
  desync: [
    ['timing', 'less'],
    ['demag', 'less'],
    ['pwm', 'less'],
  ],
};

/** What of the motor itself may be behind a finding, where its measured constants are odd too. */
const mechanical: Readonly<Partial<Record<MotionFinding['kind'], readonly Mechanical[]>>> = {
  'odd-coast-down': [
    {constant: 'inertia', way: 'more', text: 'Its bell is heavier, or something turns with it.'},
    {constant: 'friction', way: 'less', text: 'It turns more freely than the others.'},
  ],
  'odd-spool-up': [
    {constant: 'inertia', way: 'more', text: 'Its bell is heavier, or something turns with it.'},
    {
      constant: 'resistanceOhm',
      way: 'more',
      text: 'Less current reaches its winding: a bad joint, a thin wire, a broken strand.',
    },
  ],
  'odd-start': [{constant: 'friction', way: 'more', text: 'A bearing or a magnet rubs.'}],
  stutter: [{constant: 'friction', way: 'more', text: 'A bearing or a magnet rubs.'}],
};

interface Mechanical {
  readonly constant: 'inertia' | 'friction' | 'resistanceOhm';
  readonly way: 'less' | 'more';
  readonly text: string;
}

/** A constant differs when it is beyond the middle of the others by this factor, and beyond its own bounds. */
const differsBy = {inertia: 1.2, friction: 1.6, resistanceOhm: 1.25} as const;

export function causesOf(finding: MotionFinding, question: CauseQuestion): Cause[] {
  return [
    ...settingCauses(finding, question),
    ...mechanicalCauses(finding, question),
    ...constantCauses(finding, question),
  ];
}

/**
 * What an odd constant itself says. A weak magnet raises KV and leaves the winding as it is; another winding changes KV and
 * resistance together, KV² ∝ R for the same copper; a joint raises resistance alone. Nothing more can be told apart from outside.
 */
function constantCauses({kind, motor}: MotionFinding, {motors}: CauseQuestion): Cause[] {
  const share = (of: 'kv' | 'resistanceOhm' | 'inertia' | 'friction') => shareOf(motors, motor, of);
  const [kv, resistance] = [share('kv'), share('resistanceOhm')];
  const say = (text: string, of: string, value: number | undefined): Cause[] =>
    value === undefined
      ? []
      : [{text, evidence: `${of} is ${(value * 100).toFixed(0)} % of the others'.`, cure: undefined}];
  const differs = (value: number | undefined, by: number) => value !== undefined && (value > by || value < 1 / by);
  switch (kind) {
    case 'odd-kv':
      if (differs(resistance, windingDiffers))
        return say(
          'Another winding: KV and resistance differ together, as of another motor.',
          'Its resistance',
          resistance,
        );
      return kv !== undefined && kv > 1
        ? say('A weak motor: its magnets give less, so it turns faster and pulls less for its current.', 'Its KV', kv)
        : [];
    case 'odd-resistance':
      if (differs(kv, kvDiffers)) return say('Another winding: KV and resistance differ together.', 'Its KV', kv);
      return resistance !== undefined && resistance > 1
        ? say(
            'A bad joint, a thin wire or a broken strand: KV is that of the others, so the winding is.',
            'Its resistance',
            resistance,
          )
        : [];
    case 'odd-inertia':
      return say('Its bell is heavier or lighter, or something turns with it.', 'Its inertia', share('inertia'));
    case 'odd-friction':
      return say(
        'A bearing or a magnet rubs, or something lies between bell and base.',
        'Its friction',
        share('friction'),
      );
    default:
      return [];
  }
}

/** From these shares on a winding, or a KV, is another one. */
const windingDiffers = 1.12;
const kvDiffers = 1.035;

/** A constant of one motor over the middle of the others; undefined where too little was told. */
function shareOf(
  motors: readonly MotorReport[],
  motor: number,
  of: 'kv' | 'resistanceOhm' | 'inertia' | 'friction',
): number | undefined {
  const own = motors[motor]?.[of];
  const others = motors.flatMap((m, i) => (i !== motor && isEstimate(m[of]) ? [m[of].value] : []));
  return own && isEstimate(own) && others.length >= 2 ? own.value / median(others) : undefined;
}

function settingCauses({kind, motor}: MotionFinding, {settings}: CauseQuestion): Cause[] {
  return (toBlame[kind] ?? []).flatMap(([key, way]) => {
    const own = settings[motor]?.[key];
    const others = settings.flatMap((s, i) => (i === motor || s?.[key] === undefined ? [] : [s[key]]));
    const usual = mostFrequent(others);
    if (own === undefined || usual === undefined || own === usual) return [];
    if ((way === 'less' && own > usual) || (way === 'more' && own < usual)) return [];
    const {name} = definitionOf(key);
    return [
      {
        text: `${name} differs on this ESC.`,
        evidence: `It reads ${valueText(key, own)}; the others read ${valueText(key, usual)}.`,
        cure: {key, value: usual},
      },
    ];
  });
}

function mechanicalCauses({kind, motor}: MotionFinding, {motors}: CauseQuestion): Cause[] {
  return (mechanical[kind] ?? []).flatMap(({constant, way, text}) => {
    const own = motors[motor]?.[constant];
    const others = motors.flatMap((m, i) => (i !== motor && isEstimate(m[constant]) ? [m[constant].value] : []));
    if (!own || !isEstimate(own) || others.length < 2) return [];
    const usual = median(others);
    const factor = differsBy[constant];
    const isOdd =
      way === 'more' ? own.value > usual * factor && own.low > usual : own.value < usual / factor && own.high < usual;
    if (!isOdd) return [];
    return [
      {
        text,
        evidence: `${constantNames[constant]} is ${((own.value / usual) * 100).toFixed(0)} % of the others'.`,
        cure: undefined,
      },
    ];
  });
}

const constantNames = {
  inertia: 'Its inertia',
  friction: 'Its friction',
  resistanceOhm: 'The resistance of its path',
} as const;

const valueText = (key: ParameterKey, value: number): string => {
  const {choices, unit} = definitionOf(key);
  return choices?.find((c) => c.value === value)?.label ?? `${value}${unit ? ` ${unit}` : ''}`;
};

/** The value that most of them have; undefined of none. */
function mostFrequent(values: readonly number[]): number | undefined {
  const counts = new Map<number, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
}
