/** How the standing of a proof is shown: a word and a mark, never the colour alone. */
import type {Standing} from '@core/proof/standing';

export const standingWord: Readonly<Record<Standing['kind'], string>> = {
  none: 'open',
  failed: '✗ failed',
  current: '✓ current',
  earlier: '✓ proven earlier',
  void: '○ no longer valid',
};

export const standingTag: Readonly<Record<Standing['kind'], 'ok' | 'diff' | 'wait'>> = {
  none: 'wait',
  failed: 'diff',
  current: 'ok',
  earlier: 'ok',
  void: 'wait',
};
