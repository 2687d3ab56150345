/** Bounds held against many drawn flights and spin traces with known truth: `bidex calibrate`. One JSON answer. */
import {amplitudeClasses, calibrateAmplitudes} from '../calibrate/flight-amplitudes';
import {calibratePairs, pairClasses} from '../calibrate/flight-pairs';
import {calibratePoleCount} from '../calibrate/pole-count';
import {calibrateCards, motorClasses} from '../calibrate/spin-traces';
import {outcome, runsAndSeed, UsageError, type Run} from './command';

export const run: Run = ({options}) => {
  const {runs, seed} = runsAndSeed(options);
  const of = options.get('--of');
  if (of !== undefined && !(of in calibrations)) throw new UsageError();
  const value = Object.fromEntries(
    Object.entries(calibrations)
      .filter(([name]) => of === undefined || name === of)
      .map(([name, calibrate]) => [name, calibrate(runs, seed)]),
  );
  const wrong = value['poleCount'] as ReturnType<typeof calibratePoleCount> | undefined;
  return outcome({ok: !wrong?.wrong.length, value});
};

const byClass = <T>(classes: object, calibrate: (name: string) => T): Record<string, T> =>
  Object.fromEntries(Object.keys(classes).map((name) => [name, calibrate(name)]));

const calibrations: Readonly<Record<string, (runs: number, seed: number) => unknown>> = {
  poleCount: calibratePoleCount,
  pairs: (runs, seed) => byClass(pairClasses, (name) => calibratePairs(name, runs, seed)),
  amplitudes: (runs, seed) => byClass(amplitudeClasses, (name) => calibrateAmplitudes(name, runs, seed)),
  cards: (runs, seed) => byClass(motorClasses, (name) => calibrateCards(name, runs, seed)),
};
