/** Reads flight logs and computes spectra away from the screen's thread. */
import '../zod-without-eval';
import * as Comlink from 'comlink';
import {analyseNoise, type NoiseAnalysis, type NoiseQuestion} from '@core/noise/analysis';
import {readFlightLog, type FlightLog} from '@core/noise/flight-log';
import {failure, success, type Problem, type Result} from '@core/problem';

let log: FlightLog | undefined;

/** Read here and not handed over, so that a file of 100 MB never passes through the screen's thread. */
async function textOf(source: Blob | string): Promise<string | Problem> {
  if (typeof source !== 'string') return source.text();
  const response = await fetch(source).catch(() => undefined);
  if (response?.ok) return response.text();
  const meaning = response ? `The server answered with status ${response.status}.` : 'The server cannot be reached.';
  return {code: 'log-fetch', place: source, meaning, remedy: 'Check that the server runs, then try again.'};
}

export const noiseWorker = {
  /** Reads a log from a file or an address of our server, and keeps it. Resolves to what is wrong with it where something is. */
  async read(source: Blob | string, onProgress: (share: number) => void): Promise<Result<true>> {
    const text = await textOf(source);
    if (typeof text !== 'string') return failure(text);
    const reading = readFlightLog(text, (share) => {
      onProgress(share);
      return true;
    });
    if (!reading.ok) return reading;
    log = reading.value;
    return success(true);
  },
  analyse(question: NoiseQuestion): Result<NoiseAnalysis> {
    if (!log) throw new Error('No flight log was read');
    return success(analyseNoise(log, question));
  },
};
export type NoiseWorker = typeof noiseWorker;

Comlink.expose(noiseWorker);
