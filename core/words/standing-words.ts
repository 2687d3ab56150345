/** How the standing of a proof is shown: a word and a mark, never the colour alone. */

/** The ways a proof can stand. */
type StandingKind = 'none' | 'failed' | 'current' | 'earlier' | 'void';

export const standingWord: Readonly<Record<StandingKind, string>> = {
  none: 'open',
  failed: '✗ failed',
  current: '✓ current',
  earlier: '✓ proven earlier',
  void: '○ no longer valid',
};

export const standingTag: Readonly<Record<StandingKind, 'ok' | 'diff' | 'wait'>> = {
  none: 'wait',
  failed: 'diff',
  current: 'ok',
  earlier: 'ok',
  void: 'wait',
};
