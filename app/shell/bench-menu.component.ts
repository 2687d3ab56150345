import {ChangeDetectionStrategy, Component, computed, inject, input, output, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Dialog} from 'primeng/dialog';
import {InputText} from 'primeng/inputtext';
import {Select} from 'primeng/select';
import type {ListedPort} from '@core/link/bridge';
import type {Problem} from '@core/problem';
import type {Choice} from '@core/sheets/choice';
import {connectionSheet, helpedBy, portChoices, type RoadKind} from '@core/sheets/survey/connection';
import {ChosenPort, usualBridge} from '../state/chosen-port';
import {serialOf} from '../bench/serial-port';
import {LoaderByHandComponent} from '../shared/loader-by-hand.component';
import {ProblemComponent} from '../shared/problem.component';
import {BenchStore} from '../state/bench.store';

/** By which road the bench of a craft is reached, how quick it is, and what to try where nothing answers. */
@Component({
  selector: 'bx-bench-menu',
  imports: [Dialog, FormsModule, InputText, LoaderByHandComponent, ProblemComponent, Select],
  templateUrl: './bench-menu.component.html',
  styleUrl: './bench-menu.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BenchMenuComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly chosen = inject(ChosenPort);
  readonly craftId = input.required<string>();
  readonly craftName = input.required<string>();
  readonly closed = output();

  protected readonly helps = helpedBy.map((value) => ({value, label: value}));
  /** Read when the menu opens, and again on asking: a number that runs is not read. */
  private readonly trips = signal<readonly number[]>([...this.bench.roundTrips()]);
  protected readonly isConnected = computed(() => this.bench.isConnected() && this.bench.craftId() === this.craftId());
  protected readonly choice = computed(() => this.chosen.of(this.craftId()));
  protected readonly bridge = computed(() => {
    const choice = this.choice();
    return choice.kind === 'bridge' ? choice : undefined;
  });
  protected readonly sheet = computed(() =>
    connectionSheet({
      ...{chosen: this.choice().kind, isConnected: this.isConnected(), hasSerial: serialOf(navigator) !== undefined},
      ...{isStandIn: this.bench.hello()?.standIn === true, roundTripsMs: this.trips()},
      ...{evidence: this.bench.evidenceOf(this.craftId()), helped: this.chosen.helped(this.craftId())},
      lists: this.lists(),
    }),
  );

  /** Ports of the bridge as it listed them, the newest list last. */
  private readonly lists = signal<readonly (readonly ListedPort[])[]>([]);
  /** Undefined while it has listed none. */
  protected readonly ports = computed((): Choice<string>[] | undefined => {
    const newest = this.lists().at(-1);
    return newest && portChoices(newest);
  });
  protected readonly isChosenThere = signal(false);
  protected readonly listing = signal(false);
  protected readonly listProblem = signal<Problem | undefined>(undefined);

  protected async list(at: number): Promise<void> {
    this.listing.set(true);
    this.listProblem.set(undefined);
    const listed = await this.chosen.bridgePorts(at);
    this.listing.set(false);
    if (!listed.ok) this.listProblem.set(listed.problem);
    const ports = listed.ok ? listed.value : undefined;
    this.isChosenThere.set(listed.ok && !ports);
    this.lists.update((lists) => (ports ? [...lists.slice(-1), ports] : []));
  }

  protected setPath(path: string): void {
    const bridge = this.bridge();
    if (bridge) this.chosen.choose(this.craftId(), {...bridge, path});
  }

  protected choose(kind: RoadKind): void {
    this.bench.clearProblem();
    this.chosen.choose(this.craftId(), kind === 'bridge' ? usualBridge : {kind});
  }

  protected setAddress(text: string): void {
    const at = Number(text);
    const bridge = this.bridge();
    if (bridge && Number.isInteger(at) && at > 0 && at <= 0xffff) this.chosen.choose(this.craftId(), {...bridge, at});
  }

  protected async connect(): Promise<void> {
    await this.bench.connectAndSurvey(this.craftId());
    this.look();
    if (this.isConnected()) this.closed.emit();
  }

  protected look(): void {
    this.trips.set([...this.bench.roundTrips()]);
  }

  protected noteHelped(helped: string | null): void {
    this.chosen.noteHelped(this.craftId(), helped ?? '');
  }
}
