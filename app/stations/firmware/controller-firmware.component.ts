import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {
  controllerFirmwareName,
  type ControllerFirmware,
  type ControllerRelease,
} from '@core/firmware/controller-releases';
import {
  controllerBoardOf,
  controllerFit,
  isControllerBehind,
  isUnnamedBoard,
  type ControllerImage,
} from '@core/order/controller-work';
import {carryConfig} from '@core/controller/text/carry-config';
import type {ControllerFit} from '@core/controller/firmware/fit';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {ShelfStore} from '../../state/shelf.store';
import {WorkStore} from '../../state/work.store';
import {ControllerClaimComponent} from './controller-claim.component';

interface Offer {
  readonly id: string;
  readonly name: string;
  readonly version: string;
  readonly release: ControllerRelease | undefined;
  readonly fit: ControllerFit;
  readonly chosen: boolean;
  readonly note: string;
  readonly plan: () => void;
}

/** The flight controller's own firmware: what runs, what fits and why, what becomes of its configuration. */
@Component({
  selector: 'bx-controller-firmware',
  imports: [ControllerClaimComponent],
  templateUrl: './controller-firmware.component.html',
  styleUrl: './firmware.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ControllerFirmwareComponent {
  private readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);
  private readonly shelf = inject(ShelfStore);
  private readonly work = inject(WorkStore);

  protected readonly found = computed(() => this.record.found());
  protected readonly board = computed(() => {
    const found = this.found();
    return found && controllerBoardOf(found, this.fleet.current()!);
  });
  protected readonly unnamed = computed(() => {
    const found = this.found();
    return !!found && isUnnamedBoard(found);
  });
  protected readonly runs = computed(() => this.found()?.controller?.identity);
  protected readonly planned = computed(() => this.fleet.current()!.plan.controllerFirmware);
  protected readonly behind = computed(() => {
    const found = this.found();
    return !!found && isControllerBehind(this.fleet.current()!, found);
  });
  /** ESCs that nothing passes through to. */
  protected readonly blocked = computed(() => this.found()?.silent.some((s) => s.problem.code === 'no-pass-through'));

  private readonly offers = computed((): readonly Offer[] => {
    const [found, board] = [this.found(), this.board()];
    if (!found || !board) return [];
    this.shelf.images();
    const releases = (this.shelf.catalogue()?.controllers?.releases ?? []).filter((r) => r.board === board.board);
    const signed = releases.flatMap((release) => {
      const image = this.shelf.controllerRelease(release);
      return image ? [this.offer(image, release)] : [];
    });
    return [...signed, ...this.shelf.controllerFiles(board.chip).map((file) => this.offer(file, file))];
  });
  protected readonly offered = computed(() => this.offers().filter((o) => o.fit.verdict !== 'refused'));
  protected readonly refused = computed(() => this.offers().filter((o) => o.fit.verdict === 'refused'));
  protected readonly chosen = computed(() => this.offers().find((o) => o.chosen));
  /** What becomes of every line that does not simply stay. */
  protected readonly fates = computed(() => {
    const [found, to] = [this.found()?.controller, this.planned()];
    if (!found || !to || !this.behind()) return [];
    return carryConfig(found.config, found.identity.version, to.version).report.filter((l) => l.fate !== 'kept');
  });
  /** While it is written. */
  protected readonly progress = computed(() => this.work.working()['write-controller']);

  private offer(image: ControllerImage, named: {readonly family: string; readonly version: string}): Offer {
    const fit = controllerFit({craft: this.fleet.current()!, found: this.found()!}, image);
    const {release} = image;
    const planned = this.planned();
    const to: ControllerFirmware = {
      ...{family: named.family, version: named.version},
      ...(!release && {file: image.sha256}),
    };
    return {
      ...{id: image.sha256, name: controllerFirmwareName(to), version: to.version, release, fit},
      chosen: planned?.family === to.family && planned.version === to.version && planned.file === to.file,
      note: fit.reasons.find((r) => r.verdict === 'refused')?.text ?? release?.note ?? image.name,
      plan: () => this.fleet.edit((c) => ({...c, plan: {...c.plan, controllerFirmware: to}})),
    };
  }
}
