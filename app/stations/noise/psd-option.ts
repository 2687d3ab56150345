/** Chart option of the spectra as flown and as predicted. */
import type {NoiseAnalysis} from '@core/noise/analysis';
import {decibels, type Spectrum} from '@core/noise/welch';
import {sheetAxis, sheetColours} from '../../charts/chart.component';

const shownHz = 1000;

export function psdOption({asFlown, predicted}: NoiseAnalysis) {
  const colours = sheetColours();
  const points = ({density, stepHz}: Spectrum) =>
    [...density].flatMap((d, k) => (k === 0 || k * stepHz > shownHz ? [] : [[k * stepHz, decibels(d)]]));
  const line = (spectrum: Spectrum, color: string, width: number) => ({
    type: 'line',
    silent: true,
    showSymbol: false,
    data: points(spectrum),
    lineStyle: {color, width},
    itemStyle: {color},
  });
  return {
    animation: false,
    grid: {left: 40, right: 14, top: 10, bottom: 36},
    xAxis: sheetAxis(colours, 'frequency, Hz', {
      min: 0,
      max: shownHz,
      nameLocation: 'middle',
      nameGap: 21,
      splitLine: {show: false},
    }),
    yAxis: sheetAxis(colours, '', {max: 40, min: -60, interval: 20}),
    series: [line(asFlown, colours.copper, 1.3), line(predicted, colours.petrol, 2)],
  };
}
