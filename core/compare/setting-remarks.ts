/**
 * What settings of a flight controller say together with the craft: battery and log against pack and motors, and what armed
 * motors do at zero throttle. Only settings that the firmware describes are looked at.
 */
import type {SettingValue, SettingValues} from '../link/setting-shapes';
import {sticks} from '../arming/channels';
import {switchUseName} from '../controller/arming-fields';
import type {ControllerPlan} from '../controller/plan';
import type {Craft} from '../craft/craft';
import {canModel} from '../motor/model';
import {fastestHz} from '../motor/full-throttle';
import type {Remark} from '../remark';
import {fullCellVolts} from './rules/pack';

export interface RemarkQuestion {
  readonly craft: Craft;
  /** As planned, else as found. */
  readonly values: SettingValues;
  /** Loop rate as planned, else as found, Hz. */
  readonly loopHz: number | undefined;
  /** Which channel is what, as planned, else as found. */
  readonly channels: Pick<ControllerPlan, 'receiver' | 'switches'>;
  /** Memory on the board for logs, bytes; undefined where it is not told. */
  readonly logBytes?: number | undefined;
}

export const settingRemarks = (q: RemarkQuestion): Remark[] => [
  ...battery(q),
  ...log(q),
  ...signal(q),
  ...zeroThrottleRemarks(q.values),
  ...name(q),
];

const numberOf = (value: SettingValue | undefined): number | undefined =>
  typeof value === 'number' ? value : undefined;

function battery({craft, values}: RemarkQuestion): Remark[] {
  const warning = numberOf(values['battery.warning_v']);
  const lowest = numberOf(values['battery.lowest_v']);
  if (values['battery.meter'] === 'off')
    return [
      {
        tag: 'plan',
        word: 'battery',
        text: 'The voltage meter is off: no setting of the battery acts, and nothing warns of an empty pack.',
      },
    ];
  if (warning === undefined || lowest === undefined) return [];
  const {cells} = craft.battery;
  const told = numberOf(values['battery.cells']) ?? 0;
  const full = numberOf(values['battery.full_v']);
  const counted = told || (full === undefined ? cells : cellsCounted(cells, full));
  const pack = (volts: number) => `${(volts * counted).toFixed(1)} V`;
  if (counted !== cells)
    return [
      {
        ...{tag: 'diff', word: 'battery'},
        text: `${told ? `It is set to ${told} cells` : `Full cells of ${full} V make it count ${counted} cells`}, and the pack of this craft has ${cells}: it would warn at ${pack(warning)}, ${((warning * counted) / cells).toFixed(2)} V a cell.`,
      },
    ];
  if (warning <= lowest)
    return [
      {
        ...{tag: 'diff', word: 'battery'},
        text: `It warns at ${warning} V a cell, not above the lowest of ${lowest} V: the warning comes too late.`,
      },
    ];
  return [
    {
      tag: 'ok',
      word: 'battery',
      text: `With ${cells} cells it warns at ${pack(warning)}; the lowest is ${pack(lowest)}.`,
    },
  ];
}

/** Cells that a full pack is taken for: its voltage over that of a full cell, rounded up (common practice). */
function cellsCounted(cells: number, fullV: number): number {
  // A pack that rests is a little below full.
  const rested = 0.98;
  return Math.ceil((cells * fullCellVolts * rested) / fullV);
}

const shares: Readonly<Record<string, number>> = {1: 1, '1/2': 1 / 2, '1/4': 1 / 4, '1/8': 1 / 8, '1/16': 1 / 16};
/** What Noise reads of a flight: the gyro before its filters where it is there, and the speeds of the motors. */
const [gyros, speeds] = [['gyro', 'unfiltered gyro'], 'speeds'] as const;

function log({craft, values, loopHz, logBytes}: RemarkQuestion): Remark[] {
  const to = values['logging.to'];
  const said = values['logging.rate_share'];
  const share = typeof said === 'string' ? shares[said] : undefined;
  if (to === 'off') return [{tag: 'plan', word: 'log', text: 'Flights are not logged: Noise has nothing to read.'}];
  if (to === undefined || share === undefined || loopHz === undefined) return [];
  const keeps = values['logging.keeps'];
  const kept: readonly unknown[] = Array.isArray(keeps) ? keeps : [];
  if (!gyros.some((line) => kept.includes(line)))
    return [{tag: 'diff', word: 'log', text: 'The log keeps no gyro: Noise cannot read it.'}];
  const rate = loopHz * share;
  const without = kept.includes(speeds)
    ? ''
    : ' It keeps no speeds of the motors: Noise cannot say which motor a line is of.';
  const fastest = canModel(craft) ? fastestHz(craft) : undefined;
  const room = to === 'flash' && logBytes !== undefined ? roomText(logBytes, rate * valuesOf(kept, craft)) : '';
  const text = `Flights are logged at ${rate} Hz, which shows up to ${rate / 2} Hz.${room}`;
  if (fastest !== undefined && 2 * fastest > rate)
    return [
      {
        ...{tag: 'diff', word: 'log'},
        text: `${text} The motors turn at up to ${fastest.toFixed(0)} Hz (predicted): their lines fold back to other frequencies.${without}`,
      },
    ];
  return [{tag: without ? 'wait' : 'ok', word: 'log', text: `${text}${without}`}];
}

/** Values that each part of a log takes, beside time and count of the loop; of motors one each. */
const valuesIn: Readonly<Record<string, number | 'motors'>> = {
  ...{gyro: 3, 'unfiltered gyro': 3, sticks: 4, motors: 'motors', speeds: 'motors'},
  ...{'loop parts': 9, battery: 2, attitude: 3},
};

const valuesOf = (kept: readonly unknown[], {arms}: Pick<Craft, 'arms'>): number =>
  kept.reduce<number>((sum, part) => {
    const count = valuesIn[String(part)] ?? 0;
    return sum + (count === 'motors' ? arms.length : count);
  }, 2);

/** Bytes of a value that is written as it is: firmware that packs its lines writes fewer. */
const bytesPerValue = 2;

function roomText(bytes: number, valuesPerSecond: number): string {
  const minutes = bytes / (valuesPerSecond * bytesPerValue) / 60;
  return ` Its ${(bytes / 2 ** 20).toFixed(0)} MiB hold at least ${minutes.toFixed(1)} minutes of that, at ${bytesPerValue} bytes a value.`;
}

/** Where the strength of the signal comes on a channel, that channel has nothing else to carry. */
function signal({values, channels: {receiver, switches = []}}: RemarkQuestion): Remark[] {
  if (values['signal.from'] !== 'channel') return [];
  const channel = numberOf(values['signal.channel']) ?? 0;
  if (channel === 0)
    return [
      {
        ...{tag: 'diff', word: 'signal'},
        text: 'The strength of the signal is to come on a channel, and none is named: nothing warns of a weak signal.',
      },
    ];
  const stick = sticks.find((s) => receiver?.[s] === channel);
  const use = switches.find((s) => s.channel === channel)?.use;
  const other = stick ?? (use && switchUseName[use].toLowerCase());
  if (other === undefined)
    return [{tag: 'ok', word: 'signal', text: `The strength of the signal comes on channel ${channel}.`}];
  return [
    {
      ...{tag: 'diff', word: 'signal'},
      text: `Channel ${channel} is to carry the strength of the signal, and it is ${other}: what is shown follows your hand.`,
    },
  ];
}

/** The name that overlay and logs show, where it is another one than here. */
function name({craft, values}: RemarkQuestion): Remark[] {
  const held = values['craft.name'];
  if (typeof held !== 'string' || isNamed(held, craft)) return [];
  const says = held.trim() ? `It is called “${held.trim()}” on board` : 'It has no name on board';
  return [
    {tag: 'wait', word: 'name', text: `${says}, and ${craft.name} here: overlay and logs show what is on board.`},
  ];
}

/** A name on board may be cut where the board has no room for all of it. */
const isNamed = (held: string, {name: own}: Pick<Craft, 'name'>): boolean =>
  held.trim() !== '' && own.trim().toLowerCase().startsWith(held.trim().toLowerCase());

/** What armed motors do while the throttle is closed. */
export function zeroThrottleRemarks(values: SettingValues): Remark[] {
  const at = values['behaviour.at_zero_throttle'];
  if (at === 'loop acts')
    return [
      {
        ...{tag: 'wait', word: 'zero throttle'},
        text: 'Armed, the loop acts at zero throttle too. With the propellers off nothing answers it: motors rev up by themselves when the craft is tilted. Nothing is broken; disarm.',
      },
    ];
  if (at === 'motors stop')
    return [
      {
        ...{tag: 'wait', word: 'zero throttle'},
        text: 'Armed, the motors are at rest at zero throttle: a craft that looks off may be armed, and it does not hold its attitude when the throttle is closed in flight.',
      },
    ];
  return [];
}
