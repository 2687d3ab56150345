import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {Router, RouterLink} from '@angular/router';
import type {Craft} from '@core/craft/craft';
import {copyOf, fleetSheet, nextName} from '@core/sheets/keeping/fleet';
import {BenchMenuDoor} from '../bench/bench-menu-door';
import {ChosenPort} from '../state/chosen-port';
import {connectText} from '../shared/connect-text';
import {BenchStore} from '../state/bench.store';
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
  protected readonly chosen = inject(ChosenPort);
  protected readonly menu = inject(BenchMenuDoor);
  protected readonly connectText = connectText;
  private readonly record = inject(RecordStore);
  private readonly router = inject(Router);

  private readonly records = signal<readonly CraftRecord[]>([]);
  protected readonly creating = signal(false);
  protected readonly sheet = computed(() =>
    fleetSheet({
      ...{crafts: this.fleet.crafts(), records: this.records()},
      ...{atBench: this.bench.craftId(), now: this.bench.moment()},
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
    const name = nextName(
      craft.name,
      this.fleet.crafts().map((c) => c.name),
    );
    this.fleet.add(copyOf(craft, {id: crypto.randomUUID(), name}));
  }
}
