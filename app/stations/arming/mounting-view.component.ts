import {ChangeDetectionStrategy, Component, inject} from '@angular/core';
import {BenchStore} from '../../state/bench.store';
import {StandInStore} from '../../state/stand-in.store';
import type {Pose} from '../../workers/bench-control';
import {AttitudeDrawingComponent} from './attitude-drawing.component';
import {CockpitFeed} from './cockpit-feed';
import {LevellingComponent} from './levelling.component';
import {MountingStore} from './mounting.store';

/** How the board sits in the craft, from two gestures after the level; planned, and proven by the same gestures. */
@Component({
  selector: 'bx-mounting-view',
  imports: [AttitudeDrawingComponent, LevellingComponent],
  providers: [MountingStore],
  templateUrl: './mounting-view.component.html',
  styleUrl: './arming-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MountingViewComponent {
  protected readonly mounting = inject(MountingStore);
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly feed = inject(CockpitFeed);

  protected readonly poses: readonly {readonly pose: Pose; readonly label: string}[] = [
    {pose: 'level', label: 'Level'},
    {pose: 'nose down', label: 'Nose down'},
    {pose: 'right side down', label: 'Right side down'},
    {pose: 'on the bench', label: 'Put it on the bench'},
  ];
}
