import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {ButtonsFieldComponent} from '../../../shared/buttons-field.component';
import {SelectFieldComponent} from '../../../shared/select-field.component';
import {FormsModule} from '@angular/forms';
import {InputText} from 'primeng/inputtext';
import {
  deskCommands,
  deskProtocol,
  deskProtocols,
  deskValue,
  firstThrottle,
  frameFile,
  frameSheet,
  maxDeskRpm,
  readTyped,
  type DeskFrame,
} from '@core/sheets/signal/frame-desk';
import {download} from '../../../shared/download';
import {NumberFieldComponent} from '../../../shared/number-field.component';
import {FleetStore} from '../../../state/fleet.store';
import {WaveformComponent} from './waveform.component';

/** The desk for one frame: a command and its reply as bits and levels with their times, and bits read back. */
@Component({
  selector: 'bx-frame-desk',
  imports: [
    ButtonsFieldComponent,
    SelectFieldComponent,
    FormsModule,
    InputText,
    NumberFieldComponent,
    WaveformComponent,
  ],
  templateUrl: './frame-desk.component.html',
  styleUrl: './frame-desk.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FrameDeskComponent {
  private readonly craft = inject(FleetStore).current;

  protected readonly maxRpm = maxDeskRpm;
  protected readonly protocols = deskProtocols;
  protected readonly commands = deskCommands;
  protected readonly wires = [
    {value: false, label: 'plain'},
    {value: true, label: 'bidirectional'},
  ];
  protected readonly requests = [
    {value: false, label: 'not asked'},
    {value: true, label: 'asked'},
  ];
  protected readonly value = signal(1046);
  protected readonly telemetry = signal(false);
  protected readonly protocol = signal(deskProtocol(this.craft()!.plan.controller.protocol));
  protected readonly bidirectional = signal(this.craft()!.plan.controller.replies);
  protected readonly rpm = signal(12_000);
  protected readonly typed = signal('');

  protected readonly poles = computed(() => this.craft()!.motor.poles);
  private readonly frame = computed((): DeskFrame => ({
    ...{value: this.value(), telemetry: this.telemetry(), protocol: this.protocol()},
    ...{isBidirectional: this.bidirectional(), rpm: this.rpm(), poles: this.poles()},
  }));
  protected readonly sheet = computed(() => frameSheet(this.frame()));
  protected readonly read = computed(() => readTyped(this.typed(), this.poles()));

  protected pick(command: number): void {
    this.value.set(command < 0 ? firstThrottle : command);
  }

  protected setValue(value: number | null | undefined): void {
    if (typeof value === 'number') this.value.set(deskValue(value));
  }

  protected save(): void {
    const {name, text} = frameFile(this.frame(), this.sheet());
    download(name, text, 'text/plain');
  }
}
