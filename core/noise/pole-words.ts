/** What a flight says about the pole count that it was logged with, in words. */
import type {NoPoleVerdict, PoleVerdict} from './pole-count';

interface PoleWords {
  readonly fits: boolean;
  readonly title: string;
  readonly text: string;
}

/** Undefined where the flight does not tell; then {@link NoPoleVerdict} says why. */
export function poleWords(verdict: PoleVerdict | NoPoleVerdict | undefined, logged: number): PoleWords | undefined {
  if (verdict?.kind !== 'found') return undefined;
  const {poles, ratio, marginDb} = verdict;
  const fits = poles === logged;
  const basis = `Every motor at its own speed, every even count from 6 to 28: ${marginDb.toFixed(1)} dB clearer than any other.`;
  if (fits)
    return {
      fits,
      title: `${logged} poles fit this flight`,
      text: `The lines run at ${ratio.toFixed(2)} × logged speed. ${basis}`,
    };
  return {
    fits,
    title: `Logged with ${logged} poles, these motors have ${poles}`,
    text: `The lines run at ${ratio.toFixed(2)} × the speed that ${logged} give, so every notch sits beside its noise. ${basis}`,
  };
}
