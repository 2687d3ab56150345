import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {InputText} from 'primeng/inputtext';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import {writeVcd} from '@core/capture/write-vcd';
import {encodeCommand} from '@core/dshot/command';
import {commandText, namedCommands} from '@core/dshot/command-names';
import {wireTime} from '@core/dshot/wire-time';
import {digitalProtocols, isDigital, protocolName, type DigitalProtocol} from '@core/dshot/protocol';
import {readBits} from '@core/dshot/read-bits';
import {encodePeriod, encodeReply, periodOfErpm, replyGroups} from '@core/dshot/reply';
import {commandEdges, replyEdges, type Edge} from '@core/dshot/waveform';
import {download} from '../../shared/download';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {FleetStore} from '../../state/fleet.store';
import {WaveformComponent} from './waveform.component';

const bitsOf = (value: number, length: number): string => value.toString(2).padStart(length, '0');
/** Highest speed that a reply carries well, rpm. */
const maxRpm = 200_000;

/** The desk for one frame: a command and its reply as bits and levels with their times, and bits read back. */
@Component({
  selector: 'bx-frame-desk',
  imports: [FormsModule, InputText, NumberFieldComponent, Select, SelectButton, WaveformComponent],
  templateUrl: './frame-desk.component.html',
  styleUrl: './frame-desk.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FrameDeskComponent {
  private readonly fleet = inject(FleetStore);

  protected readonly mostRpm = maxRpm;
  protected readonly protocols = digitalProtocols.map((value) => ({value, label: protocolName[value]}));
  protected readonly wires = [
    {value: false, label: 'plain'},
    {value: true, label: 'bidirectional'},
  ];
  protected readonly requests = [
    {value: false, label: 'not asked'},
    {value: true, label: 'asked'},
  ];
  protected readonly commands = [
    {value: -1, label: 'throttle'},
    ...namedCommands.map(({value, name}) => ({value, label: `${value}, ${name}`})),
  ];
  protected readonly value = signal(1046);
  protected readonly telemetry = signal(false);
  protected readonly protocol = signal<DigitalProtocol>(this.planned());
  protected readonly bidirectional = signal(this.fleet.current()!.plan.controller.replies);
  protected readonly rpm = signal(12_000);
  protected readonly typed = signal('');

  protected readonly poles = computed(() => this.fleet.current()!.motor.poles);
  protected readonly named = computed(() =>
    this.value() < 48 && namedCommands.some((c) => c.value === this.value()) ? this.value() : -1,
  );
  protected readonly meaning = computed(() => commandText(this.value()));
  protected readonly word = computed(() =>
    encodeCommand({value: this.value(), telemetryRequest: this.telemetry()}, this.bidirectional()),
  );
  protected readonly commandBits = computed(() => {
    const bits = bitsOf(this.word(), 16);
    return {value: bits.slice(0, 11), telemetry: bits[11]!, checksum: bits.slice(12)};
  });
  protected readonly hex = computed(() => `0x${this.word().toString(16).toUpperCase().padStart(4, '0')}`);
  protected readonly period = computed(() => periodOfErpm((this.rpm() * this.poles()) / 2));
  protected readonly reply = computed(() => {
    const body = encodePeriod(this.period());
    return {
      ...{exponent: bitsOf(body >> 9, 3), mantissa: bitsOf(body & 0x1ff, 9)},
      groups: replyGroups(body).map((g) => bitsOf(g, 5)),
      line: bitsOf(encodeReply(this.period()), 21),
    };
  });
  protected readonly times = computed(() => wireTime(this.protocol(), this.bidirectional()));
  protected readonly timesText = computed(() => {
    const {commandUs, pauseUs, replyUs, totalUs} = this.times();
    const reply = replyUs ? `, pause about ${pauseUs} µs, reply ${replyUs.toFixed(1)} µs` : '';
    return `command ${commandUs.toFixed(1)} µs${reply}, in all ${totalUs.toFixed(1)} µs`;
  });
  protected readonly edges = computed((): readonly Edge[] => [
    ...commandEdges(this.word(), this.protocol(), this.bidirectional()),
    ...(this.bidirectional() ? replyEdges(encodeReply(this.period()), this.protocol()) : []),
  ]);
  protected readonly read = computed(() => (this.typed().trim() ? readBits(this.typed(), this.poles()) : undefined));

  protected pick(command: number): void {
    this.value.set(command < 0 ? 48 : command);
  }

  protected setValue(value: number | null | undefined): void {
    if (typeof value === 'number') this.value.set(Math.min(2047, Math.max(0, Math.round(value))));
  }

  protected save(): void {
    const [leadUs, tailUs] = [50, 100];
    const wire = {
      name: 'frame.motor',
      first: this.bidirectional() ? 1 : 0,
      edges: Float64Array.from(this.edges(), (e) => (e.us + leadUs) * 1e-6),
      unknown: new Float64Array(0),
    } as const;
    const to = (this.times().totalUs + leadUs + tailUs) * 1e-6;
    download(`${this.protocol()}-${this.value()}.vcd`, writeVcd([wire], to), 'text/plain');
  }

  private planned(): DigitalProtocol {
    const {protocol} = this.fleet.current()!.plan.controller;
    return isDigital(protocol) ? protocol : 'dshot300';
  }
}
