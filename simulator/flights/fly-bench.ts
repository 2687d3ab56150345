/** Flies the craft that stands on a simulated bench: with its motors, the settings its ESCs hold and what its controller runs. */
import type {WireConfig} from '@core/link/operations';
import type {SimulatedBench} from '../hardware/bench';
import {airframes} from './airframe';
import {fly, type FlightColumns} from './flight';
import {testFlight} from './script';

export interface BenchFlight {
  readonly craft: string;
  readonly seed: number;
  readonly seconds: number;
  /** Share of replies that are lost, one per motor. */
  readonly loss?: readonly number[];
  /** Fields of the controller's configuration that this flight is flown with instead; replies then come from every ESC. */
  readonly config?: Partial<WireConfig>;
}

/** Undefined for a bench whose craft nobody has described, and for one that cannot take off. */
export function flyBench(
  bench: SimulatedBench,
  {craft, seed, seconds, loss, config}: BenchFlight,
): {readonly columns: FlightColumns; readonly config: WireConfig} | undefined {
  const airframe = airframes[craft];
  if (!airframe || bench.escs.some((e) => e.burnt)) return undefined;
  const running = {...bench.controller.running, ...config};
  const replies = running.replies && (config !== undefined || bench.escs.some((e) => e.repliesToDshot));
  const silent = bench.escs.map((e) => (config === undefined && !e.repliesToDshot ? 1 : 0));
  const columns = fly({
    airframe,
    motors: bench.escs.map((esc, m) => ({
      constants: bench.train.outputs[m]!.motor.constants,
      drive: (rpm) => esc.drive(rpm),
    })),
    config: {...running, replies},
    phases: testFlight(seconds),
    seed,
    loss: silent.map((share, m) => Math.max(share, loss?.[m] ?? 0)),
  });
  return {columns, config: running};
}
