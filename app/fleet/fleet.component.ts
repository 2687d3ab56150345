import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {Router, RouterLink} from '@angular/router';
import type {Craft} from '@core/craft/craft';
import {copyOf} from '@core/craft/presets';
import {firmwareName} from '@core/firmware/firmware-plan';
import {firmwareText, type FoundEsc} from '@core/bench/found';
import {oddOnesOut} from '@core/bench/odd-one-out';
import {openStations, routeStates} from '@core/route/stations';
import {momentText} from '@core/words/moment';
import {connectText} from '../shared/connect-text';
import {BenchStore} from '../state/bench.store';
import {StandInStore} from '../state/stand-in.store';
import {FleetStore} from '../state/fleet.store';
import {BackupComponent} from './backup.component';
import {NewCraftComponent} from './new-craft.component';
import {RecordStore} from '../state/record.store';
import type {CraftRecord} from '../store/database';

/** All craft, each with how far it is. */
@Component({
  selector: 'bx-fleet',
  imports: [RouterLink, NewCraftComponent, BackupComponent],
  templateUrl: './fleet.component.html',
  styleUrl: './fleet.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FleetComponent {
  protected readonly fleet = inject(FleetStore);
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly connectText = connectText;
  private readonly record = inject(RecordStore);
  private readonly router = inject(Router);

  private readonly records = signal<readonly CraftRecord[]>([]);
  protected readonly creating = signal(false);
  private readonly flying = computed(() => this.fleet.crafts().filter((c) => !c.archived));
  protected readonly archived = computed(() => this.fleet.crafts().filter((c) => c.archived));
  /** Craft with the state of its firmware as last surveyed. */
  protected readonly rows = computed(() =>
    this.flying().map((craft) => {
      const record = this.records().find((r) => r.craftId === craft.id);
      const found = record?.found;
      const now = this.bench.craftId() === craft.id ? this.bench.moment() : undefined;
      const states = found && routeStates({craft, record, now});
      const left = states && openStations(states).length;
      return {
        craft,
        firmware: grouped(found?.escs ?? []),
        planned: firmwareName(craft.plan.firmware),
        surveyed: found?.at,
        left,
      };
    }),
  );

  constructor() {
    void this.fleet.load();
    void this.record.all().then((records) => this.records.set(records ?? []));
  }

  protected async connect(craftId: string): Promise<void> {
    await this.router.navigate(['/craft', craftId, 'survey']);
    await this.bench.connectAndSurvey(craftId);
  }

  /** A copy under the next free name; what was found and proven stays with the first. */
  protected copy(craft: Craft): void {
    const taken = new Set(this.fleet.crafts().map((c) => c.name));
    let n = 2;
    while (taken.has(`${craft.name} ${n}`)) n++;
    this.fleet.add(copyOf(craft, {id: crypto.randomUUID(), name: `${craft.name} ${n}`}));
  }

  protected readonly when = momentText;
}

/** "Meridian 3.9 ×3, Meridian 3.7 ×1" */
function grouped(escs: readonly FoundEsc[]): {text: string; odd: boolean}[] {
  const odd = new Set(oddOnesOut(escs, firmwareText).map(firmwareText));
  const texts = [...new Set(escs.map(firmwareText))];
  return texts.map((text) => ({
    text: `${text} ×${escs.filter((e) => firmwareText(e) === text).length}`,
    odd: odd.has(text),
  }));
}
