import {provideZonelessChangeDetection, type ApplicationConfig} from '@angular/core';
import {RouteReuseStrategy, provideRouter, withComponentInputBinding} from '@angular/router';
import {providePrimeNG} from 'primeng/config';
import {routes} from './app.routes';
import {ChosenPort} from './state/chosen-port';
import {PORT_SOURCE} from './bench/port-source';
import {KeptStations} from './shared/kept-stations';
import {STAND_IN, StandIn} from './workers/stand-in';
import {sheetPreset} from './theme';

export const appConfig: ApplicationConfig = {
  providers: [
    provideZonelessChangeDetection(),
    {provide: PORT_SOURCE, useExisting: ChosenPort},
    {provide: STAND_IN, useExisting: StandIn},
    provideRouter(routes, withComponentInputBinding()),
    {provide: RouteReuseStrategy, useExisting: KeptStations},
    providePrimeNG({
      ripple: false,
      theme: {
        preset: sheetPreset,
        options: {darkModeSelector: '.dark', cssLayer: {name: 'primeng', order: 'primeng, sheet'}},
      },
    }),
  ],
};
