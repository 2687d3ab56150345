import {Injectable, signal} from '@angular/core';

/** A file that was dropped somewhere and waits for the Shelf to open it. */
@Injectable({providedIn: 'root'})
export class FileInbox {
  private readonly waiting = signal<File | undefined>(undefined);
  readonly file = this.waiting.asReadonly();

  put(file: File): void {
    this.waiting.set(file);
  }

  /** Takes the file out; undefined when none waits. */
  take(): File | undefined {
    const file = this.waiting();
    this.waiting.set(undefined);
    return file;
  }
}
