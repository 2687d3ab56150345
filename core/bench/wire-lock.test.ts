import {describe, expect, it} from 'vitest';
import {WireLock, type WirePurpose} from './wire-lock';

describe('the lock of the wires', () => {
  it.each(['order', 'survey', 'read-out', 'hold', 'measurement'] as const)('%s keeps everything else out', (first) => {
    const lock = new WireLock();
    const release = lock.take(first);
    for (const purpose of ['order', 'survey', 'read-out', 'hold', 'measurement'] as const)
      expect(() => lock.take(purpose)).toThrow('is using the connection');
    release();
    lock.take('survey');
  });

  it('tells who has them, and a release that comes twice frees nobody else', () => {
    const told: (WirePurpose | undefined)[] = [];
    const lock = new WireLock((purpose) => told.push(purpose));
    const first = lock.take('survey');
    first();
    const second = lock.take('order');
    first();
    expect(lock.purpose).toBe('order');
    second();
    expect(told).toEqual(['survey', undefined, 'order', undefined]);
  });
});
