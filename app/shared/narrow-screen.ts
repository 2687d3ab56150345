import {DestroyRef, inject, signal, type Signal} from '@angular/core';

/** Below this width the docket folds to a bar, CSS px: at 200 % zoom a screen of 1920 px counts as 960. */
const narrowPx = 1150;

/** Whether the page is narrow now. To be called where dependencies can be injected. */
export function narrowScreen(): Signal<boolean> {
  const query = window.matchMedia?.(`(max-width: ${narrowPx}px)`);
  const narrow = signal(query?.matches ?? false);
  const follow = () => narrow.set(query.matches);
  query?.addEventListener('change', follow);
  inject(DestroyRef).onDestroy(() => query?.removeEventListener('change', follow));
  return narrow;
}
