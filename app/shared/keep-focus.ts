/**
 * Keeps the keyboard where it was: when what had the focus goes away with the action it did, or cannot be used any more,
 * the focus goes to the nearest thing beside it that is still there, not to the top of the page.
 */

const focusable =
  'a[href], button:not(:disabled), input:not(:disabled), select:not(:disabled), textarea:not(:disabled), [tabindex]:not([tabindex="-1"])';

/** Watches `page` until the returned function is called. */
export function keepFocus(page: Document): () => void {
  /** What had the focus last, and what it stood in, nearest first. */
  let path: readonly Element[] = [];
  const remember = (event: FocusEvent) => {
    path = event.composedPath().filter((t): t is Element => t instanceof Element);
  };
  // A click beside everything takes the focus away on purpose.
  const forget = (event: Event) => {
    if (!(event.target instanceof Element) || !event.target.closest(focusable)) path = [];
  };
  const look = () => {
    const [last, ...around] = path;
    const isLost = !page.activeElement || page.activeElement === page.body;
    if (!last || !isLost || (last.isConnected && !last.matches(':disabled'))) return;
    path = [];
    const near = around.filter((e) => e.isConnected && e !== page.body && e !== page.documentElement);
    const next = near.map((e) => (e.matches(focusable) ? e : e.querySelector(focusable))).find((e) => e !== null);
    if (next instanceof HTMLElement || next instanceof SVGElement) next.focus({preventScroll: true});
  };
  const observer = new MutationObserver(look);
  page.addEventListener('focusin', remember);
  page.addEventListener('pointerdown', forget, {capture: true});
  observer.observe(page.body, {subtree: true, childList: true, attributes: true, attributeFilter: ['disabled']});
  return () => {
    observer.disconnect();
    page.removeEventListener('focusin', remember);
    page.removeEventListener('pointerdown', forget, {capture: true});
  };
}
