/** Reads flight logs and computes spectra away from the screen's thread. */
import '../zod-without-eval';
import * as Comlink from 'comlink';
import {analyseNoise, type NoiseAnalysis, type NoiseQuestion} from '@core/noise/analysis';
import {readFlightLog, type FlightLog} from '@core/noise/flight-log';
import type {Problem} from '@core/problem';

let log: FlightLog | undefined;

export const noiseWorker = {
  /** Reads a log and keeps it. Resolves to what is wrong with it, or nothing. */
  read(text: string, onProgress: (share: number) => void): Problem | undefined {
    const reading = readFlightLog(text, (share) => {
      onProgress(share);
      return true;
    });
    if (!reading.ok) return reading.problem;
    log = reading.value;
    return undefined;
  },
  analyse(question: NoiseQuestion): NoiseAnalysis {
    if (!log) throw new Error('No flight log was read');
    return analyseNoise(log, question);
  },
};
export type NoiseWorker = typeof noiseWorker;

Comlink.expose(noiseWorker);
