import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {RouterLink} from '@angular/router';
import {BenchStore} from '../state/bench.store';
import {FleetStore} from '../state/fleet.store';
import {RecordStore} from '../state/record.store';
import {RouteStore} from '../state/route.store';
import {stationNames} from '@core/work/stations';
import {Router} from '@angular/router';

/** All craft, each with how far it is. */
@Component({
  selector: 'bx-fleet',
  imports: [RouterLink],
  templateUrl: './fleet.component.html',
  styleUrl: './fleet.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FleetComponent {
  protected readonly fleet = inject(FleetStore);
  protected readonly bench = inject(BenchStore);
  private readonly record = inject(RecordStore);
  private readonly route = inject(RouteStore);
  private readonly router = inject(Router);

  /** Craft with the state of its firmware as last surveyed; known for the one whose record is open. */
  protected readonly rows = computed(() =>
    this.fleet.crafts().map((craft) => {
      const open = this.record.craftId() === craft.id;
      const found = open ? this.record.found() : undefined;
      const versions = (found?.escs ?? []).map((e) =>
        e.identity ? `${e.identity.family} ${e.identity.version}` : 'no application',
      );
      const states = open ? this.route.states() : undefined;
      const left = states && stationNames.filter((name) => name !== 'sign-off' && states[name].state !== 'done').length;
      return {craft, firmware: grouped(versions), surveyed: found?.at, left};
    }),
  );

  constructor() {
    void this.start();
  }

  private async start(): Promise<void> {
    await this.fleet.load();
    const first = this.fleet.crafts()[0];
    if (!first) return;
    this.fleet.open(first.id);
    await this.record.open(first.id);
  }

  protected async connect(): Promise<void> {
    const first = this.fleet.crafts()[0];
    await this.bench.connect();
    if (!first || !this.bench.isConnected()) return;
    await this.router.navigate(['/craft', first.id, 'survey']);
    await this.bench.survey();
  }

  protected when(at: number): string {
    return new Date(at).toLocaleString('en-GB', {dateStyle: 'medium', timeStyle: 'short'});
  }
}

/** "Meridian 3.9 ×3, Meridian 3.7 ×1" */
function grouped(versions: readonly string[]): {text: string; odd: boolean}[] {
  const counts = new Map<string, number>();
  for (const v of versions) counts.set(v, (counts.get(v) ?? 0) + 1);
  const most = Math.max(0, ...counts.values());
  return [...counts].map(([text, n]) => ({text: `${text} ×${n}`, odd: n < most}));
}
