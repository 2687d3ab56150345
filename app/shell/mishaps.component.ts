import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import type {MenuItem} from 'primeng/api';
import {Menu} from 'primeng/menu';
import {BenchStore} from '../state/bench.store';
import {FleetStore} from '../state/fleet.store';
import {StandInStore} from '../state/stand-in.store';

/** The simulated bench's own menu: its battery, cable, pace, and what can go wrong. */
@Component({
  selector: 'bx-mishaps',
  imports: [Menu],
  template: `
    <button type="button" class="text" aria-haspopup="menu" (click)="menu.toggle($event)">Mishaps</button>
    <p-menu #menu [model]="items()" popup appendTo="body" />
  `,
  styles:
    '.text { background: none; border: 0; color: var(--bar-ink-2); font-size: 12.5px; cursor: pointer; padding: 8px 4px; } .text:hover { text-decoration: underline; } .text:focus-visible { outline-color: var(--bar-mark); }',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MishapsComponent {
  private readonly bench = inject(BenchStore);

  private readonly standIn = inject(StandInStore);
  private readonly fleet = inject(FleetStore);

  protected readonly items = computed((): MenuItem[] => {
    const {bench, standIn} = this;
    const mishaps = standIn.mishaps();
    const connected = bench.isConnected();
    const entry = (label: string, command: () => unknown, more: MenuItem = {}): MenuItem => ({
      label,
      command: () => void command(),
      ...more,
    });
    const toggle = (label: string, on: boolean, changes: Parameters<typeof standIn.changeMishaps>[0]) =>
      entry(`${on ? '✓ ' : ''}${label}`, () => standIn.changeMishaps(changes));
    const one = (list: readonly number[]) => (list.length ? [] : [1]);
    return [
      {
        label: 'Battery and cable',
        items: [
          bench.isPowered() || !connected
            ? entry('Take the battery off', () => standIn.setBattery(false), {disabled: !connected})
            : entry('Connect the battery', () => standIn.setBattery(true)),
          entry('Battery goes off at motor 3, page 12', () => standIn.arm({what: 'battery-off', output: 2, pages: 12})),
          toggle('Battery nearly empty', mishaps.batteryLow, {batteryLow: !mishaps.batteryLow}),
          connected
            ? entry('Pull the cable out', () => standIn.pullCable())
            : entry('Plug the cable in', () => bench.connect(this.fleet.currentId() ?? 'juniper')),
          entry('Flight controller restarts by itself', () => standIn.restartController(), {
            disabled: !connected,
          }),
          ...this.roads(),
        ],
      },
      {
        label: 'On the way',
        items: [
          toggle('Bytes lost and flipped on the cable', mishaps.cableNoise > 0, {
            cableNoise: mishaps.cableNoise ? 0 : 0.0001,
          }),
          toggle('USB hub drops long transfers', mishaps.longestTransfer < Infinity, {
            longestTransfer: mishaps.longestTransfer < Infinity ? Infinity : 280,
          }),
          toggle('Port held by another program', mishaps.portHeld, {portHeld: !mishaps.portHeld}),
          toggle('Noise on the motor wires', mishaps.wireNoise > 0, {wireNoise: mishaps.wireNoise ? 0 : 0.03}),
        ],
      },
      {
        label: 'ESC of motor 2',
        items: [
          toggle('Does not answer', mishaps.silent.length > 0, {silent: one(mishaps.silent)}),
          entry('Another program changes its settings', () => standIn.meddle(1), {disabled: !connected}),
          toggle('Has a worn flash page', mishaps.worn.length > 0, {worn: one(mishaps.worn)}),
        ],
      },
      {
        label: 'Clock of the bench',
        items: (['real', 'ten', 'max'] as const).map((pace) =>
          entry(
            (standIn.pace() === pace ? '✓ ' : '') + {real: '×1, as real', ten: '×10', max: 'As fast as possible'}[pace],
            () => standIn.setPace(pace),
          ),
        ),
      },
      {label: 'Bench', items: [entry('Set back to its first state', () => standIn.reset())]},
    ];
  });

  /** Where the cable can be plugged in, on a bench with an adapter beside it. */
  private roads(): MenuItem[] {
    const state = this.standIn.seen();
    if (!this.bench.isConnected() || !state?.hasAdapter) return [];
    const other = state.road === 'controller' ? 'single-wire' : 'controller';
    const label = other === 'controller' ? 'Cable into the flight controller' : 'Cable into the single-wire adapter';
    return [{label, command: () => void this.standIn.plugInto(other)}];
  }
}
