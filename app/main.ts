import './zod-without-eval';
import {bootstrapApplication} from '@angular/platform-browser';
import {appConfig} from './app.config';
import {RootComponent} from './root.component';
import {openStore} from './store/open-store';

const tell = (text: string) => (document.querySelector('bx-root')!.textContent = text);
openStore(tell)
  .then(() => bootstrapApplication(RootComponent, appConfig))
  .catch((error: unknown) => console.error(error));
