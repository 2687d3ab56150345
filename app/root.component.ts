import {ApplicationRef, ChangeDetectionStrategy, Component, inject} from '@angular/core';
import {takeUntilDestroyed} from '@angular/core/rxjs-interop';
import {NavigationEnd, Router, RouterOutlet} from '@angular/router';

/**
 * Holds what the address names. The router puts the elements of a view on the page and leaves it to a later frame to fill
 * them: until then its buttons are open whatever the rules say, and what is typed into a field is lost. So a view is
 * filled in the step that creates it.
 */
@Component({
  selector: 'bx-root',
  imports: [RouterOutlet],
  template: '<router-outlet />',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RootComponent {
  constructor() {
    const application = inject(ApplicationRef);
    inject(Router)
      .events.pipe(takeUntilDestroyed())
      .subscribe((event) => {
        if (event instanceof NavigationEnd) application.tick();
      });
  }
}
