/** What a flight says about the planned pole count, in words. */
import type {NoPoleVerdict, PoleVerdict} from './pole-count';

export interface PoleWords {
  readonly fits: boolean;
  readonly title: string;
  readonly text: string;
}

/** Undefined where the flight does not tell; then {@link NoPoleVerdict} says why. */
export function poleWords(verdict: PoleVerdict | NoPoleVerdict | undefined, planned: number): PoleWords | undefined {
  if (verdict?.kind !== 'found') return undefined;
  const {poles, ratio, marginDb} = verdict;
  const fits = poles === planned;
  const other = ` With ${poles} poles they would run at ${((ratio * poles) / planned).toFixed(2)} ×.`;
  return {
    fits,
    title: `${planned} poles ${fits ? 'fits' : 'does not fit'} this flight`,
    text:
      `Every motor at its own speed, every even count: the lines run at ${ratio.toFixed(2)} × the speed that ${planned} ` +
      `poles give, ${marginDb.toFixed(1)} dB clearer than for any other count.${fits ? '' : other}`,
  };
}
