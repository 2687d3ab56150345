/** Chart options of the filters view: spectra before and after, delay over frequency, a moment in the time domain. */
import type {FilteredWindow} from '@core/tuning/window-filter';
import type {Forecast} from '@core/tuning/forecast';
import {decibels} from '@core/spectra/welch';
import {sheetAxis, sheetColours} from '../../../charts/chart.component';

const shownHz = 1000;
type Point = readonly [number, number];

const line = (
  data: readonly Point[],
  color: string,
  {width = 1.4, type = 'solid'}: {width?: number; type?: string | number[]} = {},
) => ({
  type: 'line',
  silent: true,
  showSymbol: false,
  data,
  lineStyle: {color, width, type},
  itemStyle: {color},
});
const below = (name: string, more: Record<string, unknown>) => ({
  nameLocation: 'middle',
  nameGap: 21,
  splitLine: {show: false},
  name,
  ...more,
});

export function spectraOption({asFlown, left, stepHz}: Omit<Forecast, 'moments'>, axis: number) {
  const colours = sheetColours();
  const points = (density: Float64Array): Point[] =>
    [...density].flatMap((d, k) => (k === 0 || k * stepHz > shownHz ? [] : [[k * stepHz, decibels(d)] as const]));
  const top = Math.min(shownHz, (asFlown[0]!.length - 1) * stepHz);
  return {
    animation: false,
    grid: {left: 40, right: 14, top: 10, bottom: 36},
    xAxis: sheetAxis(colours, 'frequency, Hz', below('frequency, Hz', {min: 0, max: top})),
    yAxis: sheetAxis(colours, '', {max: 40, min: -60, interval: 20}),
    series: [
      line(points(asFlown[axis]!), colours.copper, {width: 1.3}),
      line(points(left[axis]!), colours.petrol, {width: 2}),
    ],
  };
}

export function delayOption(
  planned: {readonly hz: readonly number[]; readonly ms: readonly number[]},
  found: typeof planned | undefined,
  atHz: number,
) {
  const colours = sheetColours();
  const points = (curve: typeof planned): (readonly [number, number | null])[] =>
    curve.hz.map((hz, i) => [hz, Number.isNaN(curve.ms[i]!) ? null : curve.ms[i]!] as const);
  const most = Math.max(
    1,
    ...[planned, ...(found ? [found] : [])].flatMap((c) => c.ms.filter((v) => !Number.isNaN(v))),
  );
  const mark: Point[] = [
    [atHz, 0],
    [atHz, most],
  ];
  return {
    animation: false,
    grid: {left: 40, right: 14, top: 8, bottom: 36},
    xAxis: sheetAxis(colours, 'frequency, Hz', below('frequency, Hz', {min: 0, max: 200})),
    yAxis: sheetAxis(colours, '', {min: 0, max: Math.ceil(most * 2) / 2}),
    series: [
      line(mark, colours.ink3, {width: 1, type: [2, 3]}),
      ...(found ? [line(points(found) as Point[], colours.copper, {type: [5, 3]})] : []),
      line(points(planned) as Point[], colours.petrol, {width: 2}),
    ],
  };
}

export function windowOption({before, after, atS, sampleRateHz}: FilteredWindow, axis: number) {
  const colours = sheetColours();
  const points = (samples: Float32Array): Point[] =>
    [...samples].map((v, i) => [(i / sampleRateHz) * 1000, v] as const);
  return {
    animation: false,
    grid: {left: 40, right: 14, top: 8, bottom: 36},
    xAxis: sheetAxis(
      colours,
      '',
      below(`ms from ${atS.toFixed(2)} s on`, {min: 0, max: Math.round((before[0]!.length / sampleRateHz) * 1000)}),
    ),
    yAxis: sheetAxis(colours, '', {scale: true, splitNumber: 3}),
    series: [
      line(points(before[axis]!), colours.copper, {width: 0.8}),
      line(points(after[axis]!), colours.petrol, {width: 1.8}),
    ],
  };
}
