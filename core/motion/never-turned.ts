/** A motor that was commanded and never turned: with what was commanded and what flowed. */
import {turningRpm} from './starting';
import {highestOf, usualStep, type SpinTrace} from './trace';

/** A command that every motor starts on, 0…1, held in all for so long, s (common practice: they start at 2 to 10 %). */
const enough = {command: 0.15, forS: 0.15};
/** Less current than this is what a sense reads of none, A. */
const minAmps = 0.3;

interface NeverTurned {
  /** Highest command, percent. */
  readonly percent: number;
  /** Most current that flowed, A; undefined where nobody measured it. */
  readonly amps: number | undefined;
}

/** Undefined for a motor that turned, was hardly commanded, or of which no speed is known. */
export function neverTurned(trace: SpinTrace, m: number): NeverTurned | undefined {
  const {throttle, rpm, amps} = trace.motors[m]!;
  if (!rpm.some((r) => Number.isFinite(r)) || rpm.some((r) => r > turningRpm)) return undefined;
  const commandedS = throttle.filter((t) => t >= enough.command).length * usualStep(trace.timeS);
  if (commandedS < enough.forS) return undefined;
  const most = amps && highestOf(amps.filter((a) => Number.isFinite(a)));
  return {percent: 100 * highestOf(throttle), amps: most === undefined || most === -Infinity ? undefined : most};
}

export function neverTurnedText({percent, amps}: NeverTurned): string {
  const commanded = `never turned, commanded up to ${percent.toFixed(0)} %`;
  if (amps === undefined) return `${commanded}. It is blocked, or not connected.`;
  return amps < minAmps
    ? `${commanded}, and no current flowed. It is not connected, or its ESC does not drive.`
    : `${commanded}, while up to ${amps.toFixed(1)} A flowed. It is blocked, or one of its phases is not connected.`;
}
