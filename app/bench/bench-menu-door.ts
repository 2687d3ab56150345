import {Injectable, signal} from '@angular/core';

/** Opens the bench menu from wherever a person asks for another connection. */
@Injectable({providedIn: 'root'})
export class BenchMenuDoor {
  /** The craft whose connection is asked for; undefined while the menu is closed. */
  readonly craftId = signal<string | undefined>(undefined);
}
