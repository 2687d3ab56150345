import {Injectable} from '@angular/core';

/**
 * Tells stores at once that another craft has come to hand. What a store shows is of one craft: it is forgotten here, before
 * anything of the next one is drawn, so that no view has to ask whose it is.
 */
@Injectable({providedIn: 'root'})
export class CraftChange {
  private readonly listeners: (() => void)[] = [];

  /** Calls back on every change, as long as the page lives. */
  onOther(forget: () => void): void {
    this.listeners.push(forget);
  }

  tell(): void {
    for (const forget of this.listeners) forget();
  }
}
