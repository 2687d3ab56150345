/** Chart options of a captured wire: lengths of bits, and speeds over time. */
import type {EChartsCoreOption} from 'echarts/core';
import type {Histogram} from '@core/capture/decode/bit-lengths';
import type {SpeedSeries} from '@core/capture/ask/speed-series';
import {sheetAxis, sheetColours} from '../../../charts/chart.component';
import type {Span} from './timeline-view';

const grid = {left: 54, right: 12, top: 14, bottom: 30};

/** Counts as a stepped line over the length; @param marksUs where lengths should lie. */
export function lengthsOption({fromUs, stepUs, counts}: Histogram, marksUs: readonly number[]): EChartsCoreOption {
  const colours = sheetColours();
  const data = Array.from(counts, (n, i) => [fromUs + i * stepUs, n]);
  return {
    animation: false,
    grid,
    xAxis: sheetAxis(colours, 'active part of a bit, µs', {
      ...{min: fromUs, max: fromUs + stepUs * counts.length, nameLocation: 'middle', nameGap: 18},
      axisLabel: {formatter: (v: number) => v.toFixed(stepUs < 0.1 ? 2 : 0), color: colours.ink3, fontSize: 11},
    }),
    yAxis: sheetAxis(colours, ''),
    tooltip: {trigger: 'axis', valueFormatter: (v: number) => v.toLocaleString('en')},
    series: [
      {
        type: 'line',
        step: 'start',
        data,
        showSymbol: false,
        lineStyle: {color: colours.petrol, width: 1.4},
        areaStyle: {color: colours.petrol, opacity: 0.15},
      },
      ...marksUs.map((at) => ({
        type: 'line',
        data: [
          [at, 0],
          [at, Math.max(1, ...counts)],
        ],
        ...{showSymbol: false, silent: true, tooltip: {show: false}},
        lineStyle: {color: colours.ink3, type: 'dashed', width: 1},
      })),
    ],
  };
}

/** rpm over the whole capture. */
export function speedsOption({t, speed}: SpeedSeries, whole: Span): EChartsCoreOption {
  const colours = sheetColours();
  return {
    animation: false,
    grid,
    xAxis: sheetAxis(colours, 'time, s', {
      ...{nameLocation: 'middle', nameGap: 18, min: whole.from, max: whole.to},
      axisLabel: {
        formatter: (v: number) => v.toFixed(whole.to - whole.from < 0.05 ? 3 : 2),
        color: colours.ink3,
        fontSize: 11,
      },
    }),
    yAxis: sheetAxis(colours, '', {scale: true}),
    tooltip: {trigger: 'axis', valueFormatter: (v: number) => `${v.toFixed(0)} rpm`},
    series: [
      {
        ...{type: 'line', showSymbol: t.length < 40, data: Array.from(t, (at, i) => [at, speed[i]])},
        lineStyle: {color: colours.plum, width: 1.2},
        itemStyle: {color: colours.plum},
      },
    ],
  };
}
