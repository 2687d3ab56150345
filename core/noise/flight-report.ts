/** Everything that a flight says by itself, before any plan: pole count, motor lines, resonances, falls, losses, findings. */
import type {FlightLog} from '../flight/flight-log';
import {coastDowns, type CoastDown} from './coast-downs';
import {aliasedLines, type AliasedLine} from './aliased-lines';
import {findCrossover, type Crossover, type NoCrossover} from './crossover';
import type {Finding} from './finding';
import {findingsOf} from './findings';
import {halfOrders} from './tracking/half-orders';
import {desyncs, replyLosses, type Desync, type ReplyLoss} from './reply-losses';
import {motorSpeeds, type MotorSpeeds} from './tracking/motor-speeds';
import {trackOrders, type MotorOrders} from './tracking/order-tracking';
import {findPoleCount, type NoPoleVerdict, type PoleVerdict} from './pole-count';
import {findResonances, type Resonance} from './resonances';

export interface FlightReport {
  /** Count that the speeds were logged with. */
  readonly loggedPoles: number;
  /** Count that everything below was computed with: the fitted one where it is clear, else the logged one. */
  readonly usedPoles: number;
  readonly poles: PoleVerdict | NoPoleVerdict;
  readonly orders: readonly MotorOrders[];
  readonly resonances: readonly Resonance[];
  readonly coast: readonly (CoastDown | undefined)[];
  readonly losses: readonly ReplyLoss[];
  readonly desyncs: readonly Desync[];
  readonly crossover: Crossover | NoCrossover;
  /** Lines that lie beyond half the log's rate and come back mirrored. */
  readonly aliases: readonly AliasedLine[];
  readonly findings: readonly Finding[];
}

interface ReportQuestion {
  readonly loggedPoles: number;
  /** Multiples of motor speed to track; blade passing among them where the propeller's blades are known. */
  readonly orders?: readonly number[];
  readonly onProgress?: (share: number) => boolean;
}

export interface Reported {
  readonly report: FlightReport;
  /** Speeds with `usedPoles`. */
  readonly speeds: MotorSpeeds;
}

/** Undefined when it was ended. */
export function reportFlight(log: FlightLog, q: ReportQuestion): Reported | undefined {
  const {loggedPoles, orders = [1, 2, 3], onProgress = () => true} = q;
  const electrical = motorSpeeds(log, 2, log.speeds.kind === 'electrical' ? 2 : loggedPoles);
  const poles = findPoleCount(log, electrical.hz, loggedPoles);
  if (!onProgress(0.2)) return undefined;
  const usedPoles = poles.kind === 'found' ? poles.poles : loggedPoles;
  const speeds: MotorSpeeds = {...electrical, hz: electrical.hz.map((hz) => hz.map((v) => (v * 2) / usedPoles))};
  const tracked = trackOrders(log, speeds.hz, {orders, onProgress: (share) => onProgress(0.2 + 0.6 * share)});
  if (!tracked) return undefined;
  const resonances = findResonances(log, speeds);
  if (!onProgress(0.95)) return undefined;
  const measured = {
    ...{loggedPoles, poles, orders: tracked, resonances, halves: halfOrders(log, speeds.hz, resonances)},
    coast: coastDowns(log, speeds),
    losses: replyLosses(log, speeds),
    desyncs: desyncs(log, speeds),
    aliases: aliasedLines(log, speeds.hz, orders),
  };
  const report = {...measured, usedPoles, crossover: findCrossover(log), findings: findingsOf(log, measured)};
  return {report, speeds};
}
