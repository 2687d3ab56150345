/** A person beside the simulated bench who does what a running order asks for. */
import type {Progress} from '@core/run/run-context';
import type {SimulatedBench} from '../hardware/bench';
import type {Clock} from '@core/link/port';

/** Times after which the battery is off and on again, ms. */
interface Hands {
  readonly offAfterMs: number;
  readonly onAfterMs: number;
}

export function personAt(bench: SimulatedBench, time: Clock, {offAfterMs, onAfterMs}: Hands): (p: Progress) => void {
  let busy = false;
  return ({waitsFor, output}) => {
    if (waitsFor === 'clip') bench.clippedTo = output;
    if (waitsFor === 'transmitter') bench.cockpit.transmitter.on = false;
    if (busy || (waitsFor !== 'battery' && waitsFor !== 'battery-off')) return;
    busy = true;
    time.after(offAfterMs, () => {
      bench.setBattery(false);
      if (waitsFor === 'battery-off') busy = false;
    });
    if (waitsFor === 'battery')
      time.after(onAfterMs, () => {
        bench.setBattery(true);
        busy = false;
      });
  };
}
