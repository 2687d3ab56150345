import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {RouterLink} from '@angular/router';
import {type StationName} from '@core/work/stations';
import {when} from '../../shared/when';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {RouteStore} from '../../state/route.store';

interface Line {
  readonly name: string;
  readonly station: StationName;
  readonly holds: boolean;
  readonly text: string;
  readonly at: number | undefined;
}

/** Sign-off: the list of proofs, with what is still open and where to get it. */
@Component({
  selector: 'bx-sign-off',
  imports: [RouterLink],
  templateUrl: './sign-off.component.html',
  styles: `
    table {
      max-width: 1000px;
    }
    .sum {
      font-size: 15px;
      padding: 10px 0 14px;
    }
    .when {
      white-space: nowrap;
    }
    td:first-child {
      width: 90px;
    }
    td b {
      font-weight: 600;
    }
    .btn {
      margin-top: 16px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignOffComponent {
  protected readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);
  private readonly route = inject(RouteStore);

  protected readonly lines = computed((): Line[] => {
    const states = this.route.states()!;
    const proofs = this.record.proofs();
    const found = this.record.found();
    const {replies, pages, settings} = {
      pages: latestProof(proofs, 'pages'),
      settings: latestProof(proofs, 'settings'),
      replies: latestProof(proofs, 'replies'),
    };
    const done = (name: StationName) => states[name].state === 'done';
    const sightings = this.record.sightings();
    const noise = this.record.noise();
    return [
      {
        name: 'Everything answers',
        station: 'survey',
        holds: done('survey'),
        text: found ? `${found.escs.length} ESCs and the flight controller` : 'No survey yet.',
        at: found?.at,
      },
      {
        name: 'Same firmware, page by page',
        station: 'firmware',
        holds: done('firmware'),
        text: pages?.text ?? 'Pages are compared by the work order.',
        at: pages?.at,
      },
      {
        name: 'Every setting as planned',
        station: 'parameters',
        holds: done('parameters'),
        text: settings?.text ?? 'Settings are read back by the work order.',
        at: settings?.at,
      },
      {
        name: 'Order and rotation',
        station: 'spin',
        holds: done('spin'),
        text: sightings.length
          ? `${states.spin.note} outputs seen on the planned arm, turning the planned way`
          : 'Nobody has looked yet.',
        at: sightings.at(-1)?.at,
      },
      {
        name: 'No reply lost',
        station: 'signal',
        holds: done('signal'),
        text: replies?.text ?? 'Not measured yet.',
        at: replies?.at,
      },
      {
        name: 'Notches on the noise',
        station: 'noise',
        holds: done('noise'),
        text: noise
          ? `${noise.flight}: ridge at ${noise.ratio.toFixed(2)} × motor speed, ${noise.gainDb.toFixed(1)} dB less between 100 and 600 Hz, ${noise.delayMs.toFixed(2)} ms of delay`
          : 'The filters on the craft were not held against a flight yet.',
        at: noise?.at,
      },
    ];
  });
  protected readonly open = computed(() => this.lines().filter((l) => !l.holds).length);
  protected readonly stationTitle = (name: StationName) => name[0]!.toUpperCase() + name.slice(1);

  protected readonly when = when;
}
