import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {kibText} from '@core/words/size';
import {controllerFirmwareSheet, type ControllerOffer} from '@core/sheets/firmware/controller-firmware';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FleetStore} from '../../state/fleet.store';
import {ShelfStore} from '../../state/shelf.store';
import {WorkStore} from '../../state/work.store';
import {ControllerClaimComponent} from './controller-claim.component';

/** The flight controller's own firmware: what runs, what fits and why, what becomes of its configuration. */
@Component({
  selector: 'bx-controller-firmware',
  imports: [ControllerClaimComponent],
  templateUrl: './controller-firmware.component.html',
  styleUrl: './firmware.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ControllerFirmwareComponent {
  protected readonly kib = kibText;
  private readonly fleet = inject(FleetStore);
  private readonly shelf = inject(ShelfStore);
  private readonly work = inject(WorkStore);
  protected readonly sheet = inject(CraftQuestionStore).sheet((q) =>
    controllerFirmwareSheet(q, (board) => this.shelf.controllerImages(board)),
  );
  /** While it is written. */
  protected readonly progress = computed(() => this.work.working()['write-controller']);

  protected plan({firmware}: ControllerOffer): void {
    this.fleet.edit((c) => ({...c, plan: {...c.plan, controllerFirmware: firmware}}));
  }
}
