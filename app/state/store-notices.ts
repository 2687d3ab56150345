import {Injectable, signal} from '@angular/core';
import {refusalText, unreadText} from '../store/refusal-text';

/** What the browser's store did not do, where no view of its own says so: shown in the bar until it was read. */
@Injectable({providedIn: 'root'})
export class StoreNotices {
  private readonly newest = signal<string | undefined>(undefined);
  readonly text = this.newest.asReadonly();

  /** Something could not be kept or deleted; for a catch. `what` goes into a sentence. */
  readonly refused =
    (what: string) =>
    (error: unknown): undefined =>
      this.newest.set(refusalText(error, what)) as undefined;

  /** Something could not be read, so it is not shown; for a catch. `what` begins a sentence. */
  readonly unread =
    (what: string) =>
    (error: unknown): undefined =>
      this.newest.set(unreadText(error, what)) as undefined;

  dismiss(): void {
    this.newest.set(undefined);
  }
}
