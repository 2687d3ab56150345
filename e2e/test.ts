/**
 * The test of every browser test: page and simulated bench move on one clock, step by step, so that a busy machine costs
 * time and nothing else; and any error in the console or in a page fails it.
 */
import {expect, test as base} from '@playwright/test';

export {expect, type Locator, type Page} from '@playwright/test';

interface Options {
  /** Virtual ms for each real one, at most; undefined for the browser's own clock, on which a hand holds. */
  readonly pace: number | undefined;
  /** Texts of errors that a test brings about itself. */
  readonly awaited: readonly RegExp[];
}

export const test = base.extend<Options & {errors: string[]}>({
  pace: [20, {option: true}],
  awaited: [[], {option: true}],
  errors: [
    async ({context, awaited}, use) => {
      const errors: string[] = [];
      const hear = (text: string) => void (awaited.some((a) => a.test(text)) || errors.push(text));
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
