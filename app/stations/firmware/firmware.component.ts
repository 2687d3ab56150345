import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import {TableModule} from 'primeng/table';
import {findChip} from '@core/firmware/chips';
import type {FitReason} from '@core/firmware/fit';
import {planPages} from '@core/firmware/page-plan';
import {firmwareName} from '@core/firmware/firmware-plan';
import {firmwareText, hasReplies, type FoundEsc} from '@core/bench/found';
import {oddOnesOut} from '@core/bench/odd-one-out';
import {fitOf} from '@core/compare/esc-firmware';
import {identityOf} from '@core/firmware/planned-image';
import {writesImages} from '@core/run/step-kinds';
import {ConnectComponent} from '../../shared/connect.component';
import {ProblemComponent} from '../../shared/problem.component';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {ShelfStore} from '../../state/shelf.store';
import {WorkStore} from '../../state/work.store';
import {BoardClaimComponent} from './board-claim.component';
import {ControllerFirmwareComponent} from './controller-firmware.component';
import {firmwareCards, type Card} from './firmware-cards';
import {PageMapComponent} from './page-map.component';
import {WriteStripsComponent} from './write-strips.component';

/** Firmware station: what is there, which images fit and why, and which pages would be written. */
@Component({
  selector: 'bx-firmware',
  imports: [
    FormsModule,
    SelectButton,
    TableModule,
    BoardClaimComponent,
    ConnectComponent,
    ControllerFirmwareComponent,
    ProblemComponent,
    PageMapComponent,
    WriteStripsComponent,
  ],
  templateUrl: './firmware.component.html',
  styleUrl: './firmware.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FirmwareComponent {
  protected readonly record = inject(RecordStore);
  protected readonly shelf = inject(ShelfStore);
  protected readonly fleet = inject(FleetStore);
  protected readonly work = inject(WorkStore);
  protected readonly bench = inject(BenchStore);
  protected readonly firmwareText = firmwareText;
  protected readonly hasReplies = hasReplies;
  /** Output whose reasons and map are shown; the odd one out first. */
  protected readonly picked = signal<number | undefined>(undefined);
  protected readonly showRefused = signal(false);
  /** Images without what the plan needs are offered too, but folded away unless one is planned. */
  protected readonly showLacking = signal(false);

  protected readonly whose = [
    {label: 'ESCs', value: 'escs'},
    {label: 'Flight controller', value: 'controller'},
  ];
  protected readonly chosenView = signal<'escs' | 'controller' | undefined>(undefined);
  /** The flight controller first where nothing else can be reached. */
  protected readonly shown = computed(
    () => this.chosenView() ?? (this.record.found()?.escs.length ? 'escs' : 'controller'),
  );

  private readonly odd = computed(() => new Set(oddOnesOut(this.record.found()?.escs ?? [], firmwareText)));
  protected readonly unknown = computed(() => (this.record.found()?.escs ?? []).filter((e) => !e.hardware));
  protected readonly writing = computed(() => {
    const steps = this.work.open()?.order.steps ?? [];
    return steps.some(writesImages);
  });
  protected isOdd = (esc: FoundEsc): boolean => this.odd().has(esc);

  protected readonly esc = computed(() => {
    const escs = (this.record.found()?.escs ?? []).filter((e) => e.hardware);
    const picked = this.picked();
    return escs.find((e) => e.output === picked) ?? escs.find((e) => this.isOdd(e)) ?? escs[0];
  });
  protected readonly motorChoices = computed(() =>
    (this.record.found()?.escs ?? [])
      .filter((e) => e.hardware)
      .map((e) => ({label: `motor ${e.output + 1}`, value: e.output})),
  );

  private readonly cards = computed(() => {
    const [found, craft, releases] = [this.record.found(), this.fleet.current(), this.shelf.catalogue()?.releases];
    if (!found || !craft || !releases) return undefined;
    this.shelf.images();
    const own = this.shelf.files().flatMap((f) => {
      const planned = this.shelf.ownPlanned(f.sha256);
      return planned ? [{...planned, addedAt: f.addedAt, sizeBytes: f.file.length}] : [];
    });
    return firmwareCards({craft, found, releases, own, imageOf: this.shelf.releaseImage});
  });
  protected readonly lacking = computed(() =>
    (this.cards()?.offered ?? []).filter((c) => c.verdict !== 'fits' && c.release?.standing === 'steady' && !c.chosen),
  );
  protected readonly offered = computed(() => {
    const all = this.cards()?.offered ?? [];
    const lacking = this.lacking();
    return this.showLacking() || lacking.length === all.length ? all : all.filter((c) => !lacking.includes(c));
  });
  protected readonly foldsLacking = computed(() => this.lacking().length < (this.cards()?.offered.length ?? 0));
  protected readonly refused = computed(() => this.cards()?.refused ?? []);
  protected readonly otherBoards = computed(() => this.cards()?.otherBoards ?? []);
  protected readonly refusedCount = computed(
    () => this.refused().length + this.otherBoards().reduce((sum, b) => sum + b.count, 0),
  );

  /** PWM builds of the planned family for this board, kHz. */
  protected readonly builds = computed(() => {
    const craft = this.fleet.current();
    const builds = (this.shelf.catalogue()?.releases ?? []).flatMap((r) =>
      r.board === craft?.escBoard && r.pwmKhz !== undefined ? [r.pwmKhz] : [],
    );
    return [...new Set(builds)].sort((a, b) => a - b).map((value) => ({label: `${value} kHz`, value}));
  });
  /** Reply modules that the planned base takes, and none. */
  protected readonly modules = computed(() => {
    const craft = this.fleet.current();
    if (!craft) return [];
    const {family, version} = craft.plan.firmware;
    const fitting = this.shelf.modulesFor(craft.escBoard, family, version).filter((r) => r.standing !== 'withdrawn');
    return fitting.length
      ? [{label: 'none', value: ''}, ...fitting.map((r) => ({label: r.version, value: r.version}))]
      : [];
  });

  protected readonly plannedName = computed(() => {
    const craft = this.fleet.current();
    return craft ? firmwareName(craft.plan.firmware) : '';
  });

  protected readonly reasons = computed(() => {
    const [esc, craft, found] = [this.esc(), this.fleet.current(), this.record.found()];
    this.shelf.images();
    const planned = craft && esc?.hardware && this.shelf.imageFor(craft)(esc.hardware, 'base');
    if (!esc?.hardware || !planned || !found) return undefined;
    const {chip: chipName} = esc.hardware;
    const identity = identityOf(planned.image, chipName, 'base');
    const fit = fitOf({craft, found, esc, planned, part: 'base'});
    const module =
      craft.plan.firmware.module === undefined ? undefined : this.shelf.imageFor(craft)(esc.hardware, 'module');
    const moduleFit = module && fitOf({craft, found, esc, planned: module, part: 'module', identity});
    // What holds and needs no figures shares a line.
    const isMain = (r: FitReason) =>
      r.verdict !== 'holds' || ['flash', 'board', 'settings', 'pwm', 'same', 'base'].includes(r.check);
    const moduleMain = (moduleFit?.reasons ?? []).filter((r) => r.check === 'base' || r.verdict === 'refused');
    const again = this.work.rewrite().includes(esc.output);
    return {
      main: [...fit.reasons.filter(isMain), ...moduleMain],
      also: fit.reasons
        .filter((r) => !isMain(r))
        .map((r) => r.text)
        .join(' '),
      same: fit.reasons.some((r) => r.check === 'same') && firmwareText(esc) === this.plannedName(),
      again,
      plan: planPages(findChip(esc.boot.chip)!, planned.image, again ? [] : esc.pageCrcs),
      title: identity?.version ?? planned.name,
    };
  });

  protected kib = (bytes: number): string => (bytes / 1024).toFixed(bytes % 1024 ? 1 : 0);

  protected choose(card: Card): void {
    this.fleet.setFirmware(card.firmware);
  }

  protected setBuild(pwmKhz: number): void {
    const craft = this.fleet.current();
    if (craft) this.fleet.setFirmware({...craft.plan.firmware, pwmKhz});
  }

  protected setModule(module: string): void {
    const craft = this.fleet.current();
    if (!craft) return;
    const {family, version, pwmKhz, file} = craft.plan.firmware;
    this.fleet.setFirmware({
      family,
      version,
      ...(pwmKhz !== undefined && {pwmKhz}),
      ...(file !== undefined && {file}),
      ...(module && {module}),
    });
  }

  /** Reads an ESC's application out and keeps it on the Shelf as a backup. */
  protected async backUp(esc: FoundEsc): Promise<void> {
    const craft = this.fleet.current();
    const chip = findChip(esc.boot.chip);
    if (!craft || !chip) return;
    const bytes = await this.bench.readApplication(esc.output, chip);
    if (!bytes) return;
    const day = new Date().toISOString().slice(0, 10);
    const name = `${craft.name} motor ${esc.output + 1}, ${firmwareText(esc)}, ${day}.bin`;
    await this.shelf.addFile({name, bytes}, {base: chip.application.start, origin: 'backup'});
    this.backedUp.set(name);
  }
  protected readonly backedUp = signal<string | undefined>(undefined);
}
