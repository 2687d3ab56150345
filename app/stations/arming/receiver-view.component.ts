import {ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {canonicalJson} from '@core/canonical-json';
import {judgeReceiver, wantedDeadBand} from '@core/arming/arming-proofs';
import {stickMoves, sticks, type FoundChannels, type NoChannels, type Stick} from '@core/arming/channels';
import {MoveWatch} from '@core/arming/move-watch';
import {SweepWatch, type StickEnds} from '@core/arming/sweep-watch';
import {receiverKinds, type Receiver} from '@core/controller/arming-fields';
import type {ReceiverFrame} from '@core/link/operations';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {StandInStore} from '../../state/stand-in.store';
import {ArmingRecords} from './arming-records';
import {ChannelStripComponent} from './channel-strip.component';
import {CockpitFeed} from './cockpit-feed';

const usual: Receiver = {kind: 'serial', port: 1, roll: 1, pitch: 2, throttle: 3, yaw: 4, deadBandUs: 0};

/** What comes from the transmitter: channel order from four moves, ends and centre from sweeps, frames and their gaps. */
@Component({
  selector: 'bx-receiver-view',
  imports: [ChannelStripComponent, FormsModule, NumberFieldComponent, Select],
  templateUrl: './receiver-view.component.html',
  styleUrl: './arming-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ReceiverViewComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly feed = inject(CockpitFeed);
  private readonly fleet = inject(FleetStore);
  private readonly records = inject(ArmingRecords);

  protected readonly set = computed(() => this.records.found()?.receiver ?? usual);
  protected readonly planned = computed(() => this.records.planned().receiver ?? usual);
  protected readonly kinds = receiverKinds.map((kind) => ({value: kind, label: kind}));
  protected readonly channels = computed(() =>
    this.feed.us().map((us, c) => ({
      channel: c + 1,
      us,
      stick: sticks.find((stick) => this.set()[stick] === c + 1) ?? '',
    })),
  );
  protected readonly isSilent = computed(() => (this.feed.silentMs() ?? 0) > 300);
  protected readonly moves = stickMoves;
  protected readonly sticks = sticks;

  private moveWatch: MoveWatch | undefined;
  private sweepWatch: SweepWatch | undefined;
  /** What the sweeps show so far; a new object whenever they show more. */
  private readonly swept = signal<{readonly watch: SweepWatch} | undefined>(undefined);
  /** Sticks moved so far; undefined while no moves are looked for. */
  protected readonly moved = signal<number | undefined>(undefined);
  protected readonly order = signal<FoundChannels | NoChannels | undefined>(undefined);
  protected readonly sweeping = signal(false);

  protected readonly found = computed(() => {
    const order = this.order();
    return order?.kind === 'found' ? order : undefined;
  });
  /** Before the moves, sticks are taken to be where the flight controller looks for them. */
  protected readonly ends = computed(
    (): readonly StickEnds[] => this.swept()?.watch.ends(this.found()?.channel ?? this.set()) ?? [],
  );
  protected readonly timing = computed(() => this.swept()?.watch.timing);
  /** Sticks that the sweeps tell too little of: then nothing is said of the transmitter. */
  protected readonly missing = computed(() =>
    this.sweeping() ? [] : this.ends().flatMap((e) => (e.advice.missing ? [`${e.stick}: ${e.advice.missing}`] : [])),
  );
  protected readonly verdict = computed(() => {
    const [found, ends] = [this.found(), this.ends()];
    const isWhole = ends.length > 0 && !this.sweeping() && !this.missing().length;
    return found && isWhole ? judgeReceiver(found, ends, this.set()) : undefined;
  });
  /** What is better changed here: the order of the channels, and a dead band for the noise. */
  protected readonly edit = computed((): Receiver | undefined => {
    const found = this.found();
    if (!found) return undefined;
    const deadBandUs = Math.max(this.planned().deadBandUs, this.sweeping() ? 0 : wantedDeadBand(this.ends()));
    const edit = {...this.planned(), ...found.channel, deadBandUs};
    const same = (Object.keys(edit) as (keyof Receiver)[]).every((key) => edit[key] === this.planned()[key]);
    return same ? undefined : edit;
  });
  protected readonly advice = computed(() =>
    this.sweeping() ? [] : this.ends().flatMap((e) => e.advice.onTransmitter.map((text) => `${e.stick}: ${text}`)),
  );
  protected readonly further = computed(() =>
    this.sweeping() ? [] : this.ends().flatMap((e) => e.advice.further.map((text) => `${e.stick}: ${text}`)),
  );

  constructor() {
    inject(DestroyRef).onDestroy(this.feed.onFrame((frame) => this.take(frame)));
  }

  protected plan(changes: Partial<Receiver>): void {
    this.fleet.setController({receiver: {...this.planned(), ...changes}});
  }

  protected beginMoves(): void {
    this.moveWatch = new MoveWatch();
    this.order.set(undefined);
    this.moved.set(0);
  }

  protected beginSweeps(): void {
    this.sweepWatch = new SweepWatch();
    this.swept.set(undefined);
    this.sweeping.set(true);
  }

  protected stop(): void {
    this.moveWatch = this.sweepWatch = undefined;
    this.moved.set(undefined);
    this.sweeping.set(false);
  }

  protected nextStick(): Stick | undefined {
    return sticks[this.moved() ?? sticks.length];
  }

  private take(frame: ReceiverFrame): void {
    this.takeMove(frame);
    this.takeSweep(frame);
  }

  private takeMove(frame: ReceiverFrame): void {
    const {moveWatch} = this;
    if (!moveWatch) return;
    moveWatch.feed(frame);
    this.moved.set(moveWatch.wanted ? sticks.indexOf(moveWatch.wanted) : sticks.length);
    const order = moveWatch.result;
    if (!order) return;
    this.order.set(order);
    this.stop();
    this.keepVerdict();
  }

  private takeSweep(frame: ReceiverFrame): void {
    const {sweepWatch} = this;
    if (!sweepWatch) return;
    sweepWatch.feed(frame);
    const isDone = sweepWatch.isDone(this.found()?.channel);
    // Ten times a second are enough for eyes.
    if (sweepWatch.frames % 12 && !isDone) return;
    this.swept.set({watch: sweepWatch});
    if (!isDone) return;
    this.stop();
    this.keepVerdict();
  }

  /** Keeps what moves and sweeps show together, whichever of them came last. */
  private keepVerdict(): void {
    const verdict = this.verdict();
    // Judged is what is set; a plan that is not written yet cannot be seen in the craft.
    const isWritten =
      canonicalJson(this.records.planned().receiver ?? null) === canonicalJson(this.records.found()?.receiver ?? null);
    if (verdict && isWritten) this.records.keep('receiver', verdict, this.swept()!.watch.frames);
  }
}
