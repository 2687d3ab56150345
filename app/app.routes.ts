import type {Routes} from '@angular/router';

export const routes: Routes = [
  {
    path: '',
    loadComponent: () => import('./shell/shell.component').then((m) => m.ShellComponent),
    children: [
      {
        path: '',
        pathMatch: 'full',
        title: 'Bidex · Fleet',
        loadComponent: () => import('./fleet/fleet.component').then((m) => m.FleetComponent),
      },
      {
        path: 'shelf',
        title: 'Bidex · Shelf',
        loadComponent: () => import('./shelf/shelf.component').then((m) => m.ShelfComponent),
      },
      {
        path: 'craft/:craftId',
        loadComponent: () => import('./shell/craft-frame.component').then((m) => m.CraftFrameComponent),
        children: [
          {path: '', pathMatch: 'full', redirectTo: 'craft'},
          {
            path: 'craft',
            title: 'Bidex · Craft',
            data: {kept: true},
            loadComponent: () => import('./stations/craft/craft.component').then((m) => m.CraftComponent),
          },
          {
            path: 'survey',
            title: 'Bidex · Survey',
            loadComponent: () => import('./stations/survey/survey.component').then((m) => m.SurveyComponent),
          },
          {
            path: 'firmware',
            title: 'Bidex · Firmware',
            data: {kept: true},
            loadComponent: () => import('./stations/firmware/firmware.component').then((m) => m.FirmwareComponent),
          },
          {
            path: 'parameters',
            title: 'Bidex · Parameters',
            data: {kept: true},
            loadComponent: () =>
              import('./stations/parameters/parameters.component').then((m) => m.ParametersComponent),
          },
          {
            path: 'spin',
            title: 'Bidex · Spin',
            loadComponent: () => import('./stations/spin/spin.component').then((m) => m.SpinComponent),
          },
          {
            path: 'signal',
            title: 'Bidex · Signal',
            data: {kept: true},
            loadComponent: () => import('./stations/signal/signal.component').then((m) => m.SignalComponent),
          },
          {
            path: 'arming',
            title: 'Bidex · Arming',
            loadComponent: () => import('./stations/arming/arming.component').then((m) => m.ArmingComponent),
          },
          {
            path: 'noise',
            title: 'Bidex · Noise',
            loadComponent: () => import('./stations/noise/noise.component').then((m) => m.NoiseComponent),
          },
          {
            path: 'logbook',
            title: 'Bidex · Logbook',
            loadComponent: () => import('./logbook/logbook.component').then((m) => m.LogbookComponent),
          },
          {
            path: 'sign-off',
            title: 'Bidex · Sign-off',
            loadComponent: () => import('./stations/sign-off/sign-off.component').then((m) => m.SignOffComponent),
          },
        ],
      },
      {path: '**', redirectTo: ''},
    ],
  },
];
