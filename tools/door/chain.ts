/** The best filter chain for a flight log: `bidex chain`. The search is that of the Noise station. */
import {fieldsOf} from '@core/controller/chain-of';
import {fiveInch} from '@core/craft/presets/five-inch';
import {loadLimits} from '@core/dshot/loop-budget';
import {flownWith} from '@core/flight/flown-with';
import {readFlight} from '@core/flight/read-flight';
import {crossoverHzOf} from '@core/noise/crossover';
import {reportFlight, type FlightReport} from '@core/noise/flight-report';
import {assumedMhz, chainQuestion, filterRateOf, searchFor, type ChainQuestion} from '@core/tuning/chain-question';
import {flightModel} from '@core/tuning/flight-model';
import {noiseFromHz} from '@core/tuning/forecast';
import {proposal} from '@core/tuning/proposal';
import {reasonsFor} from '@core/tuning/reasons';
import type {Trade} from '@core/tuning/search';
import {fail, failed, logFile, outcome, polesOf, type Answer, type LogFile, type Run} from './command';

export const run: Run = async ({file, options}) => outcome(await describeChain(logFile(file), options));

/** Without a craft at hand, its controller is planned as that of a new 5-inch quad. */
const planned = {...fiveInch.craft.plan.controller, gyroLowPass: 'biquad-lowpass', gyroLowPassFullHz: 0} as const;

export async function describeChain(
  {pieces, sizeBytes}: LogFile,
  options: ReadonlyMap<string, string>,
): Promise<Answer> {
  const poles = polesOf(options.get('--poles'));
  if (poles === undefined) return fail('poles', '--poles is an even number from 2 to 60.');
  const numberOf = (name: string) => (options.has(name) ? Number(options.get(name)) : undefined);
  const [delay, percent] = [numberOf('--delay-ms'), numberOf('--load-percent')];
  if (delay !== undefined && !(delay > 0)) return fail('delay', '--delay-ms is a number above 0.');
  if (percent !== undefined && !(percent > 0 && percent <= 100))
    return fail('load', '--load-percent is a number above 0 and up to 100.');
  const reading = await readFlight(pieces, {sizeBytes});
  if (!reading.ok) return failed(reading.problem);
  const log = reading.value;
  const {report, speeds} = reportFlight(log, {loggedPoles: poles})!;
  const question = chainQuestion({
    flights: [flightModel(log, speeds.hz)],
    ...{planned, config: undefined, clockMhz: undefined},
    motors: speeds.hz.length || 4,
    filterRateHz: filterRateOf(undefined, flownWith(log.notes), log.sampleRateHz),
    crossoverHz: crossoverHzOf(report.crossover),
    mostLoad: percent === undefined ? undefined : percent / 100,
  });
  const trades = searchFor(question)!;
  const within = delay === undefined ? trades : trades.filter((t) => t.delayMs <= delay);
  const chosen = delay === undefined ? proposal(trades) : within.at(-1);
  if (!chosen) return none(trades[0]?.delayMs, delay);
  return {ok: true, value: valueOf(chosen, question, {report, points: trades.length})};
}

/** What the chain is, leaves and costs: predicted, from this flight. */
function valueOf(
  {chain, delayMs, left, was, load}: Trade,
  {crossoverHz, filterRateHz, mostLoad}: ChainQuestion,
  {report, points}: {readonly report: FlightReport; readonly points: number},
) {
  return {
    predicted: true,
    // Fields that `bidex noise --filter` takes.
    chain: {...fieldsOf(chain, planned), notchMinHz: chain.motor.minHz, filterRateHz},
    ...{delayMs, atHz: crossoverHz, left, was, fromHz: noiseFromHz, unit: 'deg/s'},
    ...{loadPercent: 100 * load, mostLoadPercent: 100 * mostLoad},
    reasons: reasonsFor(chain, report, was),
    assumed: {clockMhz: assumedMhz, loopHz: planned.loopHz, protocol: planned.protocol},
    ...{poles: report.usedPoles, points},
  };
}

function none(least: number | undefined, delay: number | undefined): Answer {
  return least === undefined
    ? fail(
        'load',
        `No chain fits the load; without filters of its own the gyro task takes more than asked. Allow more than the default of ${100 * loadLimits.good} %.`,
      )
    : fail('delay', `No chain delays by ${delay} ms or less; the least is ${least.toFixed(3)} ms.`);
}
