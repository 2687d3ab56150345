/** Chart option of the spectrogram over throttle with the harmonics' lines. */
import type {CustomSeriesRenderItemAPI, CustomSeriesRenderItemParams} from 'echarts';
import type {NoiseAnalysis} from '@core/noise/analysis';
import {decibels} from '@core/noise/welch';
import {sheetAxis, sheetColours} from '../../charts/chart.component';

const ramp = [
  [251, 249, 243],
  [214, 228, 224],
  [120, 170, 172],
  [30, 98, 110],
  [28, 42, 48],
  [176, 76, 38],
] as const;
/** Levels of the lowest and the highest colour, dB re 1 (deg/s)²/Hz. */
export const levels = {lowest: -28, highest: 26};
const shownHz = 1000;
const dashes = ['solid', [6, 3], [2, 3], [1, 3], [1, 5]] as const;

function colourOf(db: number): string {
  const at = Math.min(0.999, Math.max(0, (db - levels.lowest) / (levels.highest - levels.lowest))) * (ramp.length - 1);
  const [a, b] = [ramp[Math.floor(at)]!, ramp[Math.floor(at) + 1]!];
  return `rgb(${a.map((v, i) => Math.round(v + (b[i]! - v) * (at - Math.floor(at)))).join(',')})`;
}

export function spectrogramOption({spectrogram, speed, sampleRateHz}: NoiseAnalysis, harmonics: readonly number[]) {
  const colours = sheetColours();
  const top = Math.min(shownHz, sampleRateHz / 2);
  const {bands} = spectrogram;
  const line = (h: number): Point[] =>
    [...speed].flatMap((hz, band) =>
      Number.isNaN(hz) || hz * h > top ? [] : [[hz * h, ((band + 0.5) * 100) / bands]],
    );
  const axis = {nameLocation: 'middle', splitLine: {show: false}} as const;
  return {
    animation: false,
    grid: {left: 46, right: 14, top: 10, bottom: 36},
    xAxis: sheetAxis(colours, 'frequency, Hz', {...axis, min: 0, max: top, nameGap: 21}),
    yAxis: sheetAxis(colours, 'throttle, %', {...axis, min: 0, max: 100, interval: 25, nameGap: 28}),
    series: [cellSeries(spectrogram, top), ...harmonics.map((h) => harmonicSeries(h, line(h)))],
  };
}

type Point = [number, number];

/** One rectangle for each bin of each band that was flown. */
function cellSeries({bands, bins, stepHz, density}: NoiseAnalysis['spectrogram'], top: number) {
  const cells: [number, number, number][] = [];
  for (let band = 0; band < bands; band++)
    for (let k = 0; k < bins && k * stepHz <= top; k++) {
      const value = density[band * bins + k]!;
      if (!Number.isNaN(value)) cells.push([k * stepHz, (band * 100) / bands, decibels(value)]);
    }
  return {
    type: 'custom',
    silent: true,
    clip: true,
    data: cells,
    renderItem: (_: CustomSeriesRenderItemParams, api: CustomSeriesRenderItemAPI) => {
      const [hz, from] = [api.value(0) as number, api.value(1) as number];
      const [x0, y0] = api.coord([hz - stepHz / 2, from]) as Point;
      const [x1, y1] = api.coord([hz + stepHz / 2, from + 100 / bands]) as Point;
      return {
        type: 'rect',
        shape: {x: x0, y: y1, width: x1 - x0 + 0.6, height: y0 - y1 + 0.6},
        style: {fill: colourOf(api.value(2) as number)},
      };
    },
  };
}

/** A multiple of the motors' speed over the cells: light with a dark rim, so that it reads on every colour. */
const harmonicSeries = (h: number, data: readonly Point[]) => ({
  type: 'line',
  silent: true,
  showSymbol: false,
  smooth: 0.3,
  data,
  lineStyle: {color: '#fbf9f3', width: 1.4, type: dashes[h - 1], shadowColor: '#1c2a30', shadowBlur: 2},
  endLabel: {
    show: true,
    formatter: `${h}×`,
    color: '#fbf9f3',
    textBorderColor: '#1c2a30',
    textBorderWidth: 3,
    fontWeight: 700,
    fontSize: 12,
    align: 'right',
    offset: [-10, 10],
  },
});
