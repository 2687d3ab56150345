/** Chart option: what a firmware makes of a share of throw or throttle, as found and, where it differs, as planned. */
import type {Curve} from '@core/sheets/parameters/curve';
import {sheetAxis, sheetColours} from '../../charts/chart.component';

/** @param start what the share of nothing is called. @param top end of the upright axis. */
export function curveOption(curves: readonly Curve[], {start, top}: {readonly start: string; readonly top: number}) {
  const colours = sheetColours();
  const line = ({of, points}: Curve) => ({
    type: 'line',
    silent: true,
    symbol: 'none',
    data: points,
    lineStyle: of === 'planned' ? {color: colours.petrol, width: 2.2} : {color: colours.ink2, width: 1.6, type: [5, 4]},
    endLabel: {
      show: curves.length > 1,
      formatter: of,
      color: of === 'planned' ? colours.petrol : colours.ink2,
      fontSize: 11,
      // Two ends may lie close together.
      offset: [0, of === 'planned' ? 7 : -7],
    },
  });
  return {
    animation: false,
    grid: {left: 40, right: curves.length > 1 ? 56 : 14, top: 12, bottom: 24},
    xAxis: sheetAxis(colours, '', {
      ...{min: 0, max: 1, interval: 0.5, splitLine: {show: false}},
      axisLabel: {color: colours.ink3, fontSize: 11, formatter: (v: number) => (v ? `${v * 100} %` : start)},
    }),
    yAxis: sheetAxis(colours, '', {min: 0, max: top}),
    series: curves.map(line),
  };
}
