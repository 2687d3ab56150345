/** The one gate before anything turns: every line must be right, and each says what it is or what to do. */
import type {Power} from '../../link/operations';
import {poweredVolts} from '../../bench/battery';

export interface GateState {
  readonly connected: boolean;
  /** What else than a hold has the wires: "a work order", "a survey". */
  readonly wiresTaken: string | undefined;
  readonly power: Power | undefined;
  /** Whether a motor turns or is commanded to: its current is no rest current. */
  readonly turning: boolean;
  /** Power cycle for which a person said that the propellers are off, and when, epoch ms. */
  readonly propsOff: {readonly cycle: number; readonly at: number} | undefined;
  /** The first power-up of this craft that was confirmed; undefined before it. */
  readonly firstPower: {readonly at: number; readonly amps: number} | undefined;
}

export interface GateLine {
  readonly what: 'wires' | 'battery' | 'current' | 'propellers';
  readonly state: 'right' | 'ask' | 'wrong';
  readonly text: string;
  /** When it was confirmed, epoch ms. */
  readonly since?: number;
}

/** Electronics alone draw less than this; more says that something is shorted or that a motor has power, A. */
export const maxRestAmps = 2;

export function gateLines(s: GateState): readonly GateLine[] {
  if (!s.connected) return [{what: 'wires', state: 'wrong', text: 'The bench is not connected.'}];
  const wires: GateLine = s.wiresTaken
    ? {what: 'wires', state: 'wrong', text: `${s.wiresTaken} is using the connection.`}
    : {what: 'wires', state: 'right', text: 'This browser tab controls the motors.'};
  const {power} = s;
  if (!power || power.volts <= poweredVolts)
    return [
      wires,
      {
        what: 'battery',
        state: 'wrong',
        text: 'The battery is off. ESCs are silent without it: USB does not power them.',
      },
    ];
  return [
    wires,
    {what: 'battery', state: 'right', text: `Battery ${power.volts.toFixed(1)} V.`},
    current(s, power),
    propellers(s, power),
  ];
}

/** Whether everything is right, so that motors may turn. */
export const isGateOpen = (lines: readonly GateLine[]): boolean =>
  lines.length === 4 && lines.every((l) => l.state === 'right');

function current({turning, firstPower}: GateState, {amps}: Power): GateLine {
  const now = `${amps.toFixed(2)} A`;
  if (!turning && amps > maxRestAmps)
    return {
      what: 'current',
      state: 'wrong',
      text: `It draws ${now} at rest, electronics alone less than ${maxRestAmps} A. Battery off: look for a short or a motor that has power.`,
    };
  if (!firstPower)
    return {
      what: 'current',
      state: 'right',
      text: `First power-up of this craft, or since something was written or replaced: use a current limiter, about ${maxRestAmps} A. Drawing ${now}: fine.`,
    };
  return {
    what: 'current',
    state: 'right',
    text: `${turning ? 'Draws' : 'At rest it draws'} ${now}; ${firstPower.amps.toFixed(2)} A at its first power-up.`,
    since: firstPower.at,
  };
}

const propellers = ({propsOff}: GateState, {cycles}: Power): GateLine =>
  propsOff?.cycle === cycles
    ? {what: 'propellers', state: 'right', text: 'Propellers off, for this power-up.', since: propsOff.at}
    : {
        what: 'propellers',
        state: 'ask',
        text: propsOff
          ? 'Propellers not confirmed: the battery was off since you looked. Look again.'
          : 'Propellers not confirmed: take them off.',
      };
