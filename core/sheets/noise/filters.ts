/** What the planned filters would leave of a flight, and what they cost in time: predicted, beside what is on the craft. */
import {budgetWith} from '../../controller/budget-of';
import {sectionsPerAxis, type FilterChain} from '../../filters/chain';
import {phaseLagDeg, totalDelayMs, type DelayEntry, type FilterName} from '../../filters/delay-ledger';
import {axes, type Axis} from '../../flight/mapping';
import {crossoverFigures, crossoverHzOf, type Crossover, type NoCrossover} from '../../noise/crossover';
import {decibelBounds} from '../../spectra/welch';
import {bands, noiseFromHz, rmsBetween, type Forecast} from '../../tuning/forecast';
import {gainText, type PredictedGain} from '../../tuning/predicted-gain';
import type {Prediction} from '../../tuning/prediction';
import {counted} from '../../words/counted';
import {wholePercent} from '../../words/percent';
import type {JudgedCraft} from '../craft-question';
import {sticksSheet, type SticksSheet} from './sticks';

export interface FiltersNow {
  readonly axis: Axis;
  /** What the planned filters and those found on the craft make of the open flight; undefined without one. */
  readonly planned: Prediction | undefined;
  readonly found: Prediction | undefined;
  readonly gain: PredictedGain | undefined;
  readonly plannedChain: FilterChain | undefined;
  readonly filterRateHz: number;
  readonly crossover: Crossover | NoCrossover | undefined;
}

interface FiltersSheet {
  readonly axis: number;
  /** How sure the spectra are. */
  readonly certainty: string;
  readonly bands: readonly BandRow[];
  readonly delay: DelaySheet;
  readonly gain: string;
}

/** What is left in one band, deg/s of gyro and thousands of deg/s² of its derivative. */
interface BandRow {
  readonly name: string;
  readonly was: string;
  readonly left: string;
  readonly dWas: string;
  readonly dLeft: string;
}

interface DelaySheet {
  readonly atHz: number;
  /** Of every filter on the signal's way. */
  readonly entries: readonly DelayLine[];
  readonly total: string;
  /** How much longer the filters found on the craft take than the planned ones, ms. */
  readonly surplusMs: number;
  /** As found on the craft; undefined where that is not known. */
  readonly found: string | undefined;
  /** Load of the gyro task with the planned filters; undefined before the flight controller was read. */
  readonly load: string | undefined;
  /** What it costs in phase, and where; empty where the delay is not stated. */
  readonly lag: string;
  /** What a move of the stick takes to the loop, part by part, as planned. */
  readonly sticks: SticksSheet;
}

export interface DelayLine {
  readonly filter: FilterName;
  /** How many sections of it run for one axis. */
  readonly sections: string;
  /** Length of its bar, ms; 0 for what only the derivative passes. */
  readonly ms: number;
  readonly text: string;
  readonly why: string;
}

/** Undefined while no flight has been computed: filters can be planned before, and nothing is said about them. */
export function filtersSheet(q: JudgedCraft, now: FiltersNow): FiltersSheet | undefined {
  const {planned, gain} = now;
  if (!planned) return undefined;
  return {
    axis: axes.indexOf(now.axis),
    certainty: certainty(planned.forecast),
    bands: bandRows(planned.forecast, axes.indexOf(now.axis)),
    delay: delaySheet(q, now, planned),
    gain: gain
      ? `${gainText(gain)}, from ${noiseFromHz} Hz up on all axes, by laying the planned filters over it. This is not a proof: only a flight after the change measures what they do.`
      : '',
  };
}

function certainty({stepHz, segments}: Prediction['forecast']): string {
  const {below, above} = decibelBounds(segments);
  return `Hann windows with half overlap, bins of ${stepHz.toFixed(1)} Hz, mean of ${segments} moments: right within −${below.toFixed(1)}/+${above.toFixed(1)} dB, 19 of 20 times. What lies beyond half the log's rate is unknown.`;
}

function bandRows({stepHz, asFlown, left, dAsFlown, dLeft}: Omit<Forecast, 'moments'>, axis: number): BandRow[] {
  const topHz = (asFlown[0]!.length - 1) * stepHz;
  return bands
    .filter(([from]) => from < topHz)
    .map(([from, to]) => {
      const rms = (of: readonly Float64Array[], unit = 1) =>
        (rmsBetween(of[axis]!, stepHz, from, to) / unit).toFixed(2);
      return {
        name: `${from}–${Math.round(Math.min(to, topHz))} Hz`,
        ...{was: rms(asFlown), left: rms(left), dWas: rms(dAsFlown, 1000), dLeft: rms(dLeft, 1000)},
      };
    });
}

const notStated = 'not stated';
const ms = (delay: number | undefined): string => (delay === undefined ? notStated : `${delay.toFixed(2)} ms`);

function delaySheet(q: JudgedCraft, now: FiltersNow, planned: Prediction): DelaySheet {
  const total = totalDelayMs(planned.ledger);
  const found = now.found && totalDelayMs(now.found.ledger);
  const load = loadOf(q, now.plannedChain);
  return {
    atHz: crossoverHzOf(now.crossover),
    entries: planned.ledger.map(delayLine),
    sticks: sticksSheet(q),
    total: ms(total),
    surplusMs: Math.max(0, (found ?? 0) - (total ?? Infinity)),
    found: found === undefined ? undefined : ms(found),
    load: load === undefined ? undefined : wholePercent(load),
    lag: total === undefined ? '' : lagText(total, now),
  };
}

const delayLine = ({filter, count, delayMs, why}: DelayEntry): DelayLine => ({
  ...{filter, text: ms(delayMs), why: why ?? ''},
  sections: counted(count, 'section'),
  ms: filter === 'D low-pass' ? 0 : (delayMs ?? 0),
});

/** Load of the gyro task, share of the loop. */
function loadOf({craft, record}: JudgedCraft, chain: FilterChain | undefined): number | undefined {
  const clockMhz = record.found?.controller?.identity.clockMhz;
  if (!clockMhz || !chain) return undefined;
  const outputs = craft.arms.length;
  return budgetWith(craft.plan.controller, sectionsPerAxis(chain, outputs), {clockMhz, outputs}).load;
}

function lagText(totalMs: number, {crossover, filterRateHz}: FiltersNow): string {
  const atHz = crossoverHzOf(crossover);
  const rate = `Computed at the gyro's ${(filterRateHz / 1000).toFixed(1)} kHz.`;
  return `${phaseLagDeg(totalMs, atHz).toFixed(1)}° of phase margin at ${atHz.toFixed(0)} Hz. ${crossoverText(crossover)} ${rate}`;
}

function crossoverText(c: Crossover | NoCrossover | undefined): string {
  if (c?.kind !== 'found') return `That crossover is assumed for this craft: ${c?.why ?? 'no flight is open'}.`;
  return `There the loop of this craft crosses a gain of 1: ${crossoverFigures(c)}.`;
}
