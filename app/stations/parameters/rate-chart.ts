/** Chart option: degrees per second over the stick for one axis, as found and, where it differs, as planned. */
import type {RateCurve} from '@core/sheets/parameters/turn-rates';
import {sheetAxis, sheetColours} from '../../charts/chart.component';

export function rateOption(curves: readonly RateCurve[], highest: number) {
  const colours = sheetColours();
  const line = ({of, points}: RateCurve) => ({
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
      axisLabel: {color: colours.ink3, fontSize: 11, formatter: (v: number) => (v ? `${v * 100} %` : 'centre')},
    }),
    yAxis: sheetAxis(colours, '', {min: 0, max: highest}),
    series: curves.map(line),
  };
}
