import {NgTemplateOutlet} from '@angular/common';
import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {ButtonsFieldComponent} from '../../shared/buttons-field.component';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import {TableModule} from 'primeng/table';
import {kibText} from '@core/words/size';
import {chosenFirmware, firmwareSheet, withModule} from '@core/sheets/firmware/firmware';
import type {Card} from '@core/sheets/firmware/firmware-cards';
import type {FoundEsc} from '@core/bench/found';
import {ConnectComponent} from '../../shared/connect.component';
import {ProblemComponent} from '../../shared/problem.component';
import {rowsBy} from '../../shared/row-track';
import {BenchStore} from '../../state/bench.store';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {ShelfStore} from '../../state/shelf.store';
import {WorkStore} from '../../state/work.store';
import {BoardClaimComponent} from './board-claim.component';
import {ControllerFirmwareComponent} from './controller-firmware.component';
import {FileClaimComponent} from './file-claim.component';
import {PageMapComponent} from './page-map.component';
import {WriteStripsComponent} from './write-strips.component';

/** Firmware station: what is there, which images fit and why, and which pages would be written. */
@Component({
  selector: 'bx-firmware',
  imports: [
    ButtonsFieldComponent,
    FormsModule,
    NgTemplateOutlet,
    Select,
    SelectButton,
    TableModule,
    BoardClaimComponent,
    ConnectComponent,
    ControllerFirmwareComponent,
    FileClaimComponent,
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
  protected readonly byOutput = rowsBy((esc: {readonly output: number}) => esc.output);
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

  private readonly question = inject(CraftQuestionStore).question;
  protected readonly sheet = computed(() => {
    const craft = this.question();
    if (!craft) return undefined;
    const {open} = this.work.now();
    const more = {leave: this.work.leave(), rewrite: this.work.rewrite(), picked: this.picked()};
    return firmwareSheet({craft, shelf: this.shelf.nowFor(craft.craft), work: {open}, ...more});
  });

  protected readonly kib = kibText;

  /** A card that is asked about before it is planned. */
  protected readonly asked = signal<Card | undefined>(undefined);

  protected choose(card: Card): void {
    if (card.asks && !card.chosen) this.asked.set(card);
    else this.plan(card);
  }

  protected plan(card: Card): void {
    this.asked.set(undefined);
    this.fleet.setFirmware(card.firmware);
  }

  protected setBuild(pwmKhz: number): void {
    const craft = this.fleet.current();
    if (craft) this.fleet.setFirmware({...craft.plan.firmware, pwmKhz});
  }

  protected setModule(module: string): void {
    const craft = this.fleet.current();
    if (craft) this.fleet.setFirmware(withModule(craft.plan.firmware, module));
  }

  /** Firmware for one motor alone; none of its own where the choice is that of the craft. */
  protected setOwn(motor: number, id: string): void {
    this.fleet.setOwnFirmware(motor, chosenFirmware(this.sheet()?.motorFirmware, id));
  }

  /** Reads an ESC's application out and keeps it on the Shelf as a backup. */
  protected async backUp(esc: FoundEsc): Promise<void> {
    const name = await this.shelf.backUp(esc, (chip) => this.bench.readApplication(esc.output, chip));
    if (name !== undefined) this.backedUp.set(name);
  }
  protected readonly backedUp = signal<string | undefined>(undefined);
}
