import {ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import {blockWords} from '@core/arming/blocks';
import {sticks} from '@core/arming/channels';
import {SwitchWatch, switchesOn} from '@core/arming/switch-watch';
import {armingFindings} from '@core/compare/rules/arming-findings';
import {switchUseName, switchUses, type Switch, type SwitchUse} from '@core/controller/arming-fields';
import {canonicalJson} from '@core/canonical-json';
import type {ArmingBlock} from '@core/link/operations';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {FleetStore} from '../../state/fleet.store';
import {StandInStore} from '../../state/stand-in.store';
import {ArmingRecords} from './arming-records';
import {ChannelStripComponent} from './channel-strip.component';
import {CockpitFeed} from './cockpit-feed';

/** Channels of the stand-in's switches, and where each can stand. */
const standInSwitches = [5, 6, 7, 8];
const positions = [
  {position: -1, label: 'down'},
  {position: 0, label: 'middle'},
  {position: 1, label: 'up'},
];

/** What the transmitter's switches do: ranges on a bar, made by moving the switch, and what keeps the craft from being armed. */
@Component({
  selector: 'bx-switches-view',
  imports: [ChannelStripComponent, FormsModule, NumberFieldComponent, SelectButton],
  templateUrl: './switches-view.component.html',
  styleUrl: './arming-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SwitchesViewComponent {
  protected readonly standIn = inject(StandInStore);
  protected readonly feed = inject(CockpitFeed);
  private readonly fleet = inject(FleetStore);
  private readonly records = inject(ArmingRecords);

  protected readonly planned = computed((): readonly Switch[] => this.records.planned().switches ?? []);
  private readonly found = computed((): readonly Switch[] => this.records.found()?.switches ?? []);
  protected readonly isWritten = computed(() => canonicalJson(this.planned()) === canonicalJson(this.found()));
  protected readonly rows = computed(() => {
    const on = switchesOn(this.planned(), this.feed.us());
    return this.planned().map((planned, index) => ({
      index,
      planned,
      name: switchUseName[planned.use],
      us: this.feed.us()[planned.channel - 1],
      on: on.includes(planned),
      ranges: [{fromUs: planned.fromUs, toUs: planned.toUs, on: on.includes(planned)}],
    }));
  });
  protected readonly findings = computed(() => armingFindings(this.fleet.current()!, this.records.found()));
  /** What keeps it from being armed now; a code of a newer controller is shown as it is. */
  protected readonly blocks = computed(() => this.feed.blocks().map((b) => blockWords[b as ArmingBlock] ?? b));

  protected readonly uses = switchUses.map((use) => ({value: use, label: switchUseName[use]}));
  protected readonly use = signal<SwitchUse>('arm');
  protected readonly name = switchUseName;
  private watch: SwitchWatch | undefined;
  protected readonly watching = signal(false);
  protected readonly standInSwitches = standInSwitches;
  protected readonly positions = positions;

  constructor() {
    const off = this.feed.onFrame((frame) => {
      this.watch?.feed(frame);
      const place = this.watch?.result;
      if (!place) return;
      this.plan([...this.planned(), {use: this.use(), ...place}]);
      this.stop();
    });
    inject(DestroyRef).onDestroy(off);
  }

  protected begin(): void {
    const receiver = this.records.planned().receiver;
    // A hand may be quicker than the next frame: what is seen now is where the switch stood.
    const now = this.feed.us();
    this.watch = new SwitchWatch(
      sticks.map((stick) => receiver?.[stick] ?? 0),
      now.length ? now : undefined,
    );
    this.watching.set(true);
  }

  protected stop(): void {
    this.watch = undefined;
    this.watching.set(false);
  }

  protected plan(switches: readonly Switch[]): void {
    this.fleet.setController({switches: [...switches]});
  }

  protected change(index: number, changes: Partial<Switch>): void {
    this.plan(this.planned().map((s, i) => (i === index ? {...s, ...changes} : s)));
  }

  protected remove(index: number): void {
    this.plan(this.planned().filter((_, i) => i !== index));
  }
}
