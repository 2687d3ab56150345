/** What a command of the headless door answers. */
import type {Problem} from '@core/problem';

export interface Answer {
  readonly ok: boolean;
  readonly value: unknown;
}

export const fail = (code: string, message: string): Answer => ({ok: false, value: {error: {code, message}}});
export const failed = ({code, place, meaning, remedy}: Problem): Answer => fail(code, `${place}: ${meaning} ${remedy}`);

/** The pole count that an option says; undefined where it is none that a motor has. */
export function polesOf(text: string | undefined): number | undefined {
  const poles = Number(text);
  return Number.isInteger(poles) && poles >= 2 && poles <= 60 && poles % 2 === 0 ? poles : undefined;
}
