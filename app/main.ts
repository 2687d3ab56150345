import './zod-without-eval';
import {bootstrapApplication} from '@angular/platform-browser';
import {appConfig} from './app.config';
import {RootComponent} from './root.component';

bootstrapApplication(RootComponent, appConfig).catch((error: unknown) => console.error(error));
