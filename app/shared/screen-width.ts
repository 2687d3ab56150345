/** How much room the page has: what folds on a narrow screen, and what grows on a wide one. */
import {DestroyRef, inject, signal, type Signal} from '@angular/core';

/** Below this width the docket folds to a bar, CSS px: at 200 % zoom a screen of 1920 px counts as 960. */
const narrowPx = 1150;
/** From this width on strips and charts grow. */
const widePx = 1500;

/** Whether the page is narrow now. To be called where dependencies can be injected. */
export const narrowScreen = (): Signal<boolean> => matching(`(max-width: ${narrowPx}px)`);

/** Whether the page is wide now. To be called where dependencies can be injected. */
export const wideScreen = (): Signal<boolean> => matching(`(min-width: ${widePx}px)`);

function matching(condition: string): Signal<boolean> {
  const query = window.matchMedia?.(condition);
  const matches = signal(query?.matches ?? false);
  const follow = () => matches.set(query.matches);
  query?.addEventListener('change', follow);
  inject(DestroyRef).onDestroy(() => query?.removeEventListener('change', follow));
  return matches;
}
