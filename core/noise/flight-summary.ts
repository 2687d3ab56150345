/** What is known of a flight without its samples. */
import type {ControllerConfig} from '../controller/plan';
import {motorsIn, type FlightLog} from '../flight/flight-log';
import {phasesOf, type FlightPhase, type TimeRange} from '../flight/phases';
import type {Flight} from '../flight/flight';
import type {FlightReport} from './flight-report';

type Samples =
  | 'gyro'
  | 'filteredGyro'
  | 'setpoint'
  | 'throttle'
  | 'speeds'
  | 'commands'
  | 'replyErrors'
  | 'volts'
  | 'amps';

export interface FlightSummary extends Omit<FlightLog, Samples> {
  readonly motors: number;
  readonly hasFiltered: boolean;
  readonly hasThrottle: boolean;
  readonly phases: Readonly<Record<FlightPhase, readonly TimeRange[]>>;
  /** What the log itself says it was flown with. */
  readonly config: ControllerConfig | undefined;
  readonly report: FlightReport;
  /** Charge that the log's own current adds up to, mAh. */
  readonly chargeMah: number | undefined;
}

export interface OpenFlight {
  readonly flight: Flight;
  readonly summary: FlightSummary;
}

export function summaryOf(log: FlightLog, report: FlightReport, config: ControllerConfig | undefined): FlightSummary {
  const {sampleRateHz, samples, durationS, stretches, mapping, names, notes, questions, dropped, otherFlights, drift} =
    log;
  return {
    ...{sampleRateHz, samples, durationS, stretches, mapping, names, notes, questions, dropped, otherFlights, drift},
    motors: motorsIn(log),
    hasFiltered: log.filteredGyro !== undefined,
    hasThrottle: log.throttle !== undefined,
    phases: phasesOf(log),
    ...{config, report},
    chargeMah: log.amps && (log.amps.reduce((sum, a) => sum + a, 0) / sampleRateHz / 3600) * 1000,
  };
}
