/** Starts the application once its store is open. */
import {bootstrapApplication} from '@angular/platform-browser';
import {appConfig} from './app.config';
import {RootComponent} from './root.component';
import {openStore} from './store/open-store';

export async function boot(): Promise<void> {
  await openStore((text) => (document.querySelector('bx-root')!.textContent = text));
  await bootstrapApplication(RootComponent, appConfig);
}
