/**
 * The test of every browser test: page and simulated bench move on one clock, step by step, so that a busy machine costs
 * time and nothing else; and any error of a script fails it. What a service does not answer is no error of a script.
 */
import {expect, test as base} from '@playwright/test';

export {expect, type Locator, type Page} from '@playwright/test';

interface Options {
  /** Virtual ms for each real one, at most; undefined for the browser's own clock, on which a hand holds. */
  readonly pace: number | undefined;
}

export const test = base.extend<Options & {errors: string[]}>({
  pace: [20, {option: true}],
  errors: [
    async ({context}, use) => {
      const errors: string[] = [];
      const hear = (text: string) => void (text.startsWith('Failed to load resource') || errors.push(text));
      context.on('console', (message) => message.type() === 'error' && hear(message.text()));
      context.on('weberror', (error) => hear(error.error().message));
      await use(errors);
      expect(errors, 'errors of the page').toEqual([]);
    },
    {auto: true},
  ],
  context: async ({context, pace}, use) => {
    if (pace !== undefined)
      await context.addInitScript((own) => {
        window.bidexPace = own;
      }, pace);
    await use(context);
  },
});

declare global {
  interface Window {
    bidexPace?: number;
  }
}
