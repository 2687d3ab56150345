import {ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal} from '@angular/core';
import {judgeMounting, mountingText} from '@core/arming/arming-proofs';
import {attitudeOf} from '@core/arming/attitude';
import {GestureWatch, gestures, gestureWords} from '@core/arming/gesture-watch';
import {findMounting, type FoundMounting, type NoMounting} from '@core/arming/mounting';
import {angleBetween, matrixOf} from '@core/arming/rotation';
import {ProblemError} from '@core/problem';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {StandInStore} from '../../state/stand-in.store';
import type {Pose} from '../../workers/bench-control';
import {ArmingRecords} from './arming-records';
import {AttitudeDrawingComponent} from './attitude-drawing.component';
import {CockpitFeed} from './cockpit-feed';

const straight = {roll: 0, pitch: 0, yaw: 0};

/** How the board sits in the craft, from two gestures after the level; planned, and proven by the same gestures. */
@Component({
  selector: 'bx-mounting-view',
  imports: [AttitudeDrawingComponent],
  templateUrl: './mounting-view.component.html',
  styleUrl: './arming-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MountingViewComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly feed = inject(CockpitFeed);
  private readonly fleet = inject(FleetStore);
  private readonly records = inject(ArmingRecords);

  protected readonly arms = computed(() => this.fleet.current()!.arms);
  protected readonly set = computed(() => this.records.found()?.mounting ?? straight);
  protected readonly planned = computed(() => this.records.planned().mounting ?? straight);
  protected readonly isPlanned = computed(() => angleBetween(matrixOf(this.set()), matrixOf(this.planned())) < 0.5);
  protected readonly attitude = computed(() => {
    const reading = this.feed.reading();
    return reading && attitudeOf(reading.g, this.set());
  });

  protected readonly gestures = gestures;
  protected readonly words = gestureWords;
  protected readonly poses: readonly {readonly pose: Pose; readonly label: string}[] = [
    {pose: 'level', label: 'Level'},
    {pose: 'nose down', label: 'Nose down'},
    {pose: 'right side down', label: 'Right side down'},
  ];
  private watch: GestureWatch | undefined;
  /** Gestures taken so far; undefined while none are looked for. */
  protected readonly taken = signal<number | undefined>(undefined);
  protected readonly result = signal<FoundMounting | NoMounting | undefined>(undefined);
  /** The accelerometer was switched on for this and goes off again. */
  protected readonly lent = signal(false);
  protected readonly text = mountingText;
  protected readonly verdict = computed(() => {
    const result = this.result();
    return result?.kind === 'found' ? judgeMounting(result, this.set()) : undefined;
  });

  constructor() {
    const off = this.feed.onReading(({atMs, g}) => this.take(atMs, g));
    inject(DestroyRef).onDestroy(() => {
      off();
      if (this.lent()) void this.giveBack();
    });
  }

  protected begin(): void {
    this.watch = new GestureWatch();
    this.result.set(undefined);
    this.taken.set(0);
  }

  protected cancel(): void {
    this.watch = undefined;
    this.taken.set(undefined);
  }

  protected plan(found: FoundMounting): void {
    this.fleet.setController({mounting: found.mounting});
  }

  /** Switches the accelerometer on until the controller starts anew, or this view is left. */
  protected async lend(): Promise<void> {
    if (await this.setAccelerometer(true)) this.lent.set(true);
  }

  private async giveBack(): Promise<void> {
    this.lent.set(false);
    await this.setAccelerometer(false);
  }

  private async setAccelerometer(on: boolean): Promise<boolean> {
    try {
      await this.bench.requireClient().request('controller.set', {accelerometer: on});
      return true;
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      this.feed.problem.set(error.problem);
      return false;
    }
  }

  private take(atMs: number, g: readonly [number, number, number]): void {
    const {watch} = this;
    if (!watch) return;
    watch.feed(atMs, g);
    this.taken.set(watch.wanted ? gestures.indexOf(watch.wanted) : gestures.length);
    const all = watch.result;
    if (!all) return;
    const result = findMounting(all);
    this.result.set(result);
    this.cancel();
    // A plan that is not written yet cannot be seen in the craft: what is set is judged.
    if (result.kind === 'found' && this.isPlanned())
      this.records.keep('mounting', judgeMounting(result, this.set()), watch.readings);
    if (this.lent()) void this.giveBack();
  }
}
