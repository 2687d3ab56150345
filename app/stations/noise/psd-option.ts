/** Chart option of the spectra as flown and as predicted. */
import type {NoiseAnalysis} from '@core/noise/analysis';
import {decibels, type Spectrum} from '@core/noise/welch';
import {sheetAxis, sheetColours} from '../../charts/chart.component';

const shownHz = 1000;

export function psdOption({asFlown, predicted}: NoiseAnalysis) {
  const colours = sheetColours();
  const points = ({density, stepHz}: Spectrum) => [...density].flatMap((d, k) => (k === 0 || k * stepHz > shownHz ? [] : [[k * stepHz, decibels(d)]]));
  const line = (name: string, spectrum: Spectrum, color: string, width: number, more: object) => ({
    name, type: 'line', silent: true, showSymbol: false, data: points(spectrum), lineStyle: {color, width}, itemStyle: {color}, ...more,
  });
  const strongest = points(asFlown).filter(([hz]) => hz! > 100).reduce((a, b) => (b[1]! > a[1]! ? b : a), [100, -99]);
  const label = (text: string, at: readonly number[], color: string, position: string) => ({
    markLine: {silent: true, symbol: 'none', lineStyle: {opacity: 0}, label: {formatter: text, color, fontSize: 12, position, fontWeight: 600}, data: [[{coord: at}, {coord: [at[0]! + 1, at[1]]}]]},
  });
  const deepest = points(predicted).find(([hz]) => hz! >= strongest[0]!) ?? [0, 0];
  return {
    animation: false,
    grid: {left: 40, right: 14, top: 14, bottom: 38},
    xAxis: sheetAxis(colours, 'dB re 1 (deg/s)²/Hz over Hz', {min: 0, max: shownHz, nameLocation: 'end', nameGap: -4, nameTextStyle: {align: 'right', verticalAlign: 'top', padding: [20, 0, 0, 0], color: colours.ink2, fontSize: 11}, splitLine: {show: false}}),
    yAxis: sheetAxis(colours, '', {max: 30, min: -40, interval: 20}),
    series: [
      line('as flown', asFlown, colours.copper, 1.3, label('as flown', [strongest[0]! + 60, strongest[1]!], colours.copper, 'end')),
      line('predicted', predicted, colours.petrol, 1.7, label('predicted', [strongest[0]! + 30, deepest[1]! - 14], colours.petrol, 'end')),
    ],
  };
}
