import {Injectable, signal} from '@angular/core';

/** Whether this page keeps anything: a person may go on in memory where the browser's store cannot be read. */
@Injectable({providedIn: 'root'})
export class StoreMode {
  private readonly memory = signal(false);
  /** Nothing of this page is written to the store, whatever becomes of it later. */
  readonly inMemory = this.memory.asReadonly();

  goOnInMemory(): void {
    this.memory.set(true);
  }
}
