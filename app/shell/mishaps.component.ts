import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import type {MenuItem} from 'primeng/api';
import {Menu} from 'primeng/menu';
import {BenchStore} from '../state/bench.store';
import {FleetStore} from '../state/fleet.store';
import {StandInStore} from '../state/stand-in.store';
import type {BenchMishaps} from '../workers/bench-control';

/** The simulated bench's own menu: its battery, cable, pace, and what can go wrong. */
@Component({
  selector: 'bx-mishaps',
  imports: [Menu],
  template: `
    <button type="button" class="text" aria-haspopup="menu" (click)="menu.toggle($event)">Simulate a fault</button>
    <p-menu #menu [model]="items()" popup appendTo="body" />
  `,
  styles:
    '.text { background: none; border: 0; color: var(--bar-ink-2); font-size: var(--fs-note); cursor: pointer; padding: var(--s4) var(--s2); } .text:hover { text-decoration: underline; } .text:focus-visible { outline-color: var(--bar-mark); }',
  host: {'(document:keydown)': 'follow($event)'},
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MishapsComponent {
  private readonly bench = inject(BenchStore);

  private readonly standIn = inject(StandInStore);
  private readonly fleet = inject(FleetStore);

  /** The menu draws every entry anew for a new list: one that reads as before is no new one, or a click may miss its entry. */
  protected readonly items = computed(
    (): MenuItem[] => [
      {label: 'Battery and cable', items: this.batteryAndCable()},
      {label: 'On the way', items: this.onTheWay()},
      {label: 'ESC of motor 2', items: this.ofOneEsc()},
      {label: 'Clock of the bench', items: this.paces()},
      {label: 'Bench', items: [entry('Set back to its first state', () => this.standIn.reset())]},
    ],
    {equal: (a, b) => textOf(a) === textOf(b)},
  );

  /** The menu may be longer than the window: what the keys reach is brought into view. */
  protected follow({key}: KeyboardEvent): void {
    if (key !== 'ArrowDown' && key !== 'ArrowUp' && key !== 'Home' && key !== 'End') return;
    setTimeout(() => document.querySelector('.p-menu .p-focus')?.scrollIntoView({block: 'nearest'}));
  }

  private batteryAndCable(): MenuItem[] {
    const {bench, standIn} = this;
    const connected = bench.isConnected();
    const low = standIn.mishaps().batteryLow;
    return [
      bench.isPowered() || !connected
        ? entry('Take the battery off', () => standIn.setBattery(false), {disabled: !connected})
        : entry('Connect the battery', () => standIn.setBattery(true)),
      entry('Battery goes off at motor 3, page 12', () => standIn.arm({what: 'battery-off', output: 2, pages: 12})),
      this.toggle('Battery nearly empty', low, {batteryLow: !low}),
      connected
        ? entry('Pull the cable out', () => standIn.pullCable())
        : entry('Plug the cable in', () => bench.connect(this.fleet.currentId() ?? 'juniper')),
      entry('Flight controller restarts by itself', () => standIn.restartController(), {disabled: !connected}),
      entry('Firmware of the flight controller hangs', () => standIn.hangController(), {disabled: !connected}),
      entry('Flight controller holds a stranger’s firmware', () => standIn.strangeController(), {disabled: !connected}),
      entry('Flight controller replaced with a new one', () => standIn.replaceController(), {disabled: !connected}),
      ...this.roads(),
    ];
  }

  private onTheWay(): MenuItem[] {
    const {cableNoise, longestTransfer, looseWires, portHeld, supplyNoise, wireNoise} = this.standIn.mishaps();
    const isShort = longestTransfer < Infinity;
    return [
      this.toggle('Bytes lost and flipped on the cable', cableNoise > 0, {cableNoise: cableNoise ? 0 : 0.0001}),
      this.toggle('USB hub drops long transfers', isShort, {longestTransfer: isShort ? Infinity : 280}),
      this.toggle('Port held by another program', portHeld, {portHeld: !portHeld}),
      this.toggle('Noise on the motor wires', wireNoise > 0, {wireNoise: wireNoise ? 0 : 0.03}),
      this.toggle('No capacitor at the pack', supplyNoise > 0, {supplyNoise: supplyNoise ? 0 : 0.05}),
      this.toggle('Signal wire of motor 2 sits loose', looseWires.length > 0, {
        looseWires: looseWires.length ? [] : [1],
      }),
    ];
  }

  private ofOneEsc(): MenuItem[] {
    const {silent, worn} = this.standIn.mishaps();
    const one = (list: readonly number[]) => (list.length ? [] : [1]);
    return [
      this.toggle('Does not answer', silent.length > 0, {silent: one(silent)}),
      entry('Another program changes its settings', () => this.standIn.meddle(1), {
        disabled: !this.bench.isConnected(),
      }),
      entry('Motor replaced with a 12-pole one', () => this.standIn.mountMotor(1, 12), {
        disabled: !this.bench.isConnected(),
      }),
      this.toggle('Has a worn flash page', worn.length > 0, {worn: one(worn)}),
    ];
  }

  private paces(): MenuItem[] {
    const names = {real: '×1, as real', ten: '×10', max: 'As fast as possible'};
    return (['real', 'ten', 'max'] as const).map((pace) =>
      entry(ticked(names[pace], this.standIn.pace() === pace), () => this.standIn.setPace(pace)),
    );
  }

  private toggle(label: string, on: boolean, changes: Partial<BenchMishaps>): MenuItem {
    return entry(ticked(label, on), () => this.standIn.changeMishaps(changes));
  }

  /** Where the cable can be plugged in, on a bench with an adapter beside it. */
  private roads(): MenuItem[] {
    const state = this.standIn.seen();
    if (!this.bench.isConnected() || !state?.hasAdapter) return [];
    const other = state.road === 'controller' ? 'single-wire' : 'controller';
    const label = other === 'controller' ? 'Cable into the flight controller' : 'Cable into the single-wire adapter';
    return [{label, command: () => void this.standIn.plugInto(other)}];
  }
}

/** What entries say, and whether they can be picked; what each does follows from that. */
const textOf = (items: MenuItem[]): string => JSON.stringify(items, ['label', 'disabled', 'items']);
const ticked = (label: string, on: boolean): string => (on ? '✓ ' : '') + label;
const entry = (label: string, command: () => unknown, more: MenuItem = {}): MenuItem => ({
  label,
  command: () => void command(),
  ...more,
});
