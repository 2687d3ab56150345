/** Flies the stand-in's craft as it is kept now: its ESCs' flash, its controller's configuration. Away from the bench's own clock. */
import '../zod-without-eval';
import * as Comlink from 'comlink';
import {benches} from '@simulator/benches/benches';
import {flightCsv} from '@simulator/flights/flight-csv';
import {flyBench} from '@simulator/flights/fly-bench';
import {SimulatedBench} from '@simulator/hardware/bench';
import {VirtualTime} from '@core/link/virtual-time';
import {failure, success, type Result} from '@core/problem';
import {BenchKeep} from './bench-keep';
import type {BenchId} from './bench-control';

interface SimulatedFlight {
  /** The table as the controller exports it. */
  readonly file: Uint8Array<ArrayBuffer>;
}

const flightWorker = {
  /** @param craft id of the craft that the bench stands for; @param seed another gives another flight. */
  async fly(bench: BenchId, craft: string, seed: number): Promise<Result<SimulatedFlight>> {
    const keep = new BenchKeep(bench);
    const setup = await keep.restore(benches[bench]!());
    keep.close();
    const standing = new SimulatedBench({...setup, batteryOn: true, road: 'controller'}, new VirtualTime());
    const flown = flyBench(standing, {craft, seed, seconds});
    if (!flown)
      return failure({
        code: 'cannot-fly',
        place: 'simulated craft',
        meaning: 'The simulated craft cannot take off: an ESC is burnt, or this craft has no vibration data.',
        remedy: 'Set the bench back to its first state, or fly a craft of the demo.',
      });
    const text = flightCsv(flown.columns, [`Flown by the simulated bench, seed ${seed}`], flown.config);
    return success({file: new TextEncoder().encode(text)});
  },
};
export type FlightWorker = typeof flightWorker;

/** Long enough for two sweeps, some cuts and a punch, s. */
const seconds = 20;

Comlink.expose(flightWorker);
