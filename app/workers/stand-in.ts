/** The stand-in bench: a port source whose hardware runs in a worker of this page. */
import {Injectable, InjectionToken, inject} from '@angular/core';
import * as Comlink from 'comlink';
import type {Craft} from '@core/craft/craft';
import type {BytePort} from '@core/link/port';
import {ProblemError, type Problem} from '@core/problem';
import {CLOCK} from '../bench/page-clock';
import type {PortSource} from '../bench/port-source';
import {SteppedClock} from '../bench/stepped-clock';
import type {BenchControl} from './bench-control';
import {benchOf} from './bench-of';
import {bytePortOf} from './message-port';

type Door = Pick<
  BenchControl,
  'flash' | 'configuration' | 'controllerFirmware' | 'setBattery' | 'look' | 'arm' | 'transmitter'
>;

@Injectable({providedIn: 'root'})
export class StandIn implements PortSource {
  private readonly clock = inject(CLOCK);
  private worker: Comlink.Remote<BenchControl> | undefined;

  /** What may be done to it beside its cable. */
  get control(): Comlink.Remote<BenchControl> {
    return (this.worker ??= this.start());
  }

  async open(craft: Craft | undefined): Promise<BytePort> {
    const bench = benchOf(craft);
    if (!bench) throw new ProblemError(noBench);
    const {port1, port2} = new MessageChannel();
    const stepped = this.clock instanceof SteppedClock ? this.clock : undefined;
    if (!(await this.control.plug(Comlink.transfer(port2, [port2]), bench, stepped !== undefined)))
      throw new ProblemError(portHeld);
    return bytePortOf(port1, stepped);
  }

  private start(): Comlink.Remote<BenchControl> {
    const worker = new Worker(new URL('./bench.worker', import.meta.url), {type: 'module'});
    const control = Comlink.wrap<BenchControl>(worker);
    // The debug door of the stand-in bench: tests read its flash to check every account against it, see what turns,
    // arm mishaps, and play the hand at the battery while another one holds a button.
    const bidexSimulator: Door = {
      flash: (output) => control.flash(output),
      configuration: () => control.configuration(),
      controllerFirmware: () => control.controllerFirmware(),
      setBattery: (on) => control.setBattery(on),
      look: () => control.look(),
      arm: (mishap) => control.arm(mishap),
      transmitter: (act) => control.transmitter(act),
    };
    Object.assign(window, {bidexSimulator});
    return control;
  }
}

/** The stand-in where the port source is one; undefined with real hardware. */
export const STAND_IN = new InjectionToken<StandIn | undefined>('stand-in', {
  providedIn: 'root',
  factory: () => undefined,
});

const noBench: Problem = {
  code: 'no-bench',
  place: 'simulated bench',
  meaning: 'No simulated bench stands for this craft: none has as many ESCs of its board.',
  remedy: 'Copy a craft of the demo, or choose the ESC board and the number of arms of one.',
};
const portHeld: Problem = {
  code: 'port-held',
  place: 'port',
  meaning: 'The port refused to open: another program on this computer holds it.',
  remedy: 'Close the program that talks to the flight controller, then connect again.',
};
