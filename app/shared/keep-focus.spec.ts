import {afterEach, beforeEach, describe, expect, it} from 'vitest';
import {keepFocus} from './keep-focus';

let end: () => void;
beforeEach(() => {
  document.body.innerHTML =
    '<section><div id="near"><button id="gone">Do</button><button id="beside">Other</button></div><button>Far</button></section>';
  end = keepFocus(document);
});
afterEach(() => end());

const at = (id: string) => document.getElementById(id) as HTMLButtonElement;
const settle = () => new Promise((resolve) => setTimeout(resolve, 0));
const focused = () => document.activeElement?.id;

describe('the focus', () => {
  it('goes to what stands beside, when what had it goes away', async () => {
    at('gone').focus();
    at('gone').remove();
    await settle();
    expect(focused()).toBe('beside');
  });

  it('goes further out when everything beside has gone too', async () => {
    at('gone').focus();
    at('near').remove();
    await settle();
    expect(document.activeElement?.textContent).toBe('Far');
  });

  it('passes over what is left beside it and cannot take it', async () => {
    at('gone').focus();
    at('near').innerHTML = '<p>Confirmed.</p>';
    await settle();
    expect(document.activeElement?.textContent).toBe('Far');
  });

  it('leaves a button that cannot be pressed any more', async () => {
    at('gone').focus();
    // Browsers take the focus away from what is disabled; the test environment has to be told.
    at('gone').blur();
    at('gone').disabled = true;
    await settle();
    expect(focused()).toBe('beside');
  });

  it('is let go by a click beside everything, and by what is still there', async () => {
    at('gone').focus();
    at('gone').blur();
    at('near').append(document.createElement('i'));
    await settle();
    expect(document.activeElement).toBe(document.body);
    at('gone').focus();
    document.querySelector('section')!.dispatchEvent(new Event('pointerdown', {bubbles: true}));
    at('gone').remove();
    await settle();
    expect(document.activeElement).toBe(document.body);
  });
});
