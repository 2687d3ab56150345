import {describe, expect, it} from 'vitest';
import {Harness} from '@simulator/testing/bench-harness';
import {orderAbout} from './order-name';

describe('a snapshot is named by the order that it was taken before', () => {
  it('names images, settings and flight controller once each', async () => {
    const order = await new Harness().order();
    expect(orderAbout(order)).toBe('Meridian 4.2, ESC settings, flight controller settings');
  });

  it('a roll-back, proofs alone, and far too many images', async () => {
    const order = await new Harness().order();
    expect(orderAbout({...order, rollsBack: 'x'})).toBe('a roll-back');
    expect(orderAbout({...order, steps: order.steps.filter((s) => s.kind === 'prove-pages')})).toBe('proofs');
    const write = order.steps.find((s) => s.kind === 'write-firmware')!;
    const steps = Array.from({length: 9}, (_, i) => ({
      ...write,
      image: {...write.image, name: `Meridian 4.2-own-${i}`},
    }));
    expect(orderAbout({...order, steps})).toHaveLength(70);
  });
});
