import {provideZonelessChangeDetection, type ApplicationConfig} from '@angular/core';
import {provideRouter, withComponentInputBinding} from '@angular/router';
import {providePrimeNG} from 'primeng/config';
import {routes} from './app.routes';
import {sheetPreset} from './theme';

export const appConfig: ApplicationConfig = {
  providers: [
    provideZonelessChangeDetection(),
    provideRouter(routes, withComponentInputBinding()),
    providePrimeNG({
      ripple: false,
      theme: {
        preset: sheetPreset,
        options: {darkModeSelector: '.dark', cssLayer: {name: 'primeng', order: 'primeng, sheet'}},
      },
    }),
  ],
};
