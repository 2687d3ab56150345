import {expect, it} from 'vitest';
import {poleWords} from './pole-words';

const found = {kind: 'found', poles: 14, ratio: 1, prominenceDb: 9, marginDb: 4.2} as const;

it('a pole count that fits, one that does not with the ratio it would have, and none', () => {
  expect(poleWords(found, 14)).toMatchObject({fits: true, title: '14 poles fits this flight'});
  // 12 planned, 14 there: the lines run at 12/14 of the speed that 12 poles give, and at 1 with 14.
  const wrong = poleWords({...found, ratio: 12 / 14}, 12)!;
  expect([wrong.fits, wrong.title]).toEqual([false, '12 poles does not fit this flight']);
  expect(wrong.text).toContain('the lines run at 0.86 × the speed that 12 poles give, 4.2 dB clearer');
  expect(wrong.text).toContain('With 14 poles they would run at 1.00 ×.');
  expect(poleWords({kind: 'unclear', why: 'no speed'}, 14)).toBeUndefined();
});
