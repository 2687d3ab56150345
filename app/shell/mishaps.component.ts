import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import type {MenuItem} from 'primeng/api';
import {Menu} from 'primeng/menu';
import {BenchStore} from '../state/bench.store';

/** The simulated bench's own menu: its battery, cable, pace, and what can go wrong. */
@Component({
  selector: 'bx-mishaps',
  imports: [Menu],
  template: `
    <button type="button" class="text" aria-haspopup="menu" (click)="menu.toggle($event)">Mishaps</button>
    <p-menu #menu [model]="items()" popup appendTo="body" />
  `,
  styles:
    '.text { background: none; border: 0; color: #cfd6d6; font-size: 12.5px; cursor: pointer; padding: 8px 4px; } .text:hover { text-decoration: underline; } .text:focus-visible { outline-color: #e59a6f; }',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MishapsComponent {
  private readonly bench = inject(BenchStore);

  protected readonly items = computed((): MenuItem[] => {
    const simulator = {
      setBattery: (on: boolean) => this.bench.simulator().setBattery(on),
      pullCable: () => this.bench.simulator().pullCable(),
      reset: () => this.bench.simulator().reset(),
    };
    const connected = this.bench.isConnected();
    const tick = (on: boolean) => (on ? '✓ ' : '');
    return [
      {
        label: 'Battery and cable',
        items: [
          this.bench.isPowered() || !connected
            ? {
                label: 'Take the battery off',
                disabled: !connected,
                command: () => void simulator.setBattery(false),
              }
            : {label: 'Connect the battery', command: () => void simulator.setBattery(true)},
          connected
            ? {label: 'Pull the cable out', command: () => void simulator.pullCable()}
            : {label: 'Plug the cable in', command: () => void this.bench.connect()},
        ],
      },
      {
        label: 'Noise',
        items: [
          {
            label: `${tick(this.bench.cableNoise())}Bytes lost and flipped on the cable`,
            command: () => void this.bench.toggleCableNoise(),
          },
          {
            label: `${tick(this.bench.wireNoise())}Noise on the motor wires`,
            command: () => void this.bench.toggleWireNoise(),
          },
        ],
      },
      {
        label: 'Clock of the bench',
        items: (['real', 'ten', 'max'] as const).map((pace) => ({
          label: tick(this.bench.pace() === pace) + {real: '×1, as real', ten: '×10', max: 'As fast as possible'}[pace],
          command: () => void this.bench.setPace(pace),
        })),
      },
      {
        label: 'Bench',
        items: [{label: 'Set back to its first state', command: () => void simulator.reset()}],
      },
    ];
  });
}
