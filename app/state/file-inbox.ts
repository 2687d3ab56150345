import {Injectable, signal} from '@angular/core';

/** A file that was dropped somewhere and waits for its place to open it: images for the Shelf, captures for Signal. */
@Injectable({providedIn: 'root'})
export class FileInbox {
  private readonly waiting = signal<File | undefined>(undefined);
  readonly file = this.waiting.asReadonly();

  private readonly captures = signal<File | undefined>(undefined);
  readonly capture = this.captures.asReadonly();

  putCapture(file: File): void {
    this.captures.set(file);
  }

  takeCapture(): File | undefined {
    const file = this.captures();
    this.captures.set(undefined);
    return file;
  }

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
