/** Chart option: level of the motor lines in each speed bin, before and after. */
import type {FlightComparison} from '@core/noise/compare/compare-flights';
import type {Axis} from '@core/flight/mapping';
import {sheetAxis, sheetColours} from '../../charts/chart.component';

export function compareOption({speedHz, stepHz, axes}: FlightComparison, axis: Axis) {
  const colours = sheetColours();
  const own = axes.find((a) => a.axis === axis)!;
  const points = (levels: readonly number[]) =>
    levels.flatMap((db, i) => (Number.isFinite(db) ? [[speedHz[i]! + stepHz / 2, db] as const] : []));
  const line = (levels: readonly number[], color: string, symbol: string) => ({
    type: 'line',
    silent: true,
    symbol,
    symbolSize: 8,
    data: points(levels),
    lineStyle: {color, width: 1.8},
    itemStyle: {color},
  });
  return {
    animation: false,
    grid: {left: 44, right: 14, top: 10, bottom: 36},
    xAxis: sheetAxis(colours, '', {
      name: 'mean speed of the motors, revolutions per second',
      nameLocation: 'middle',
      nameGap: 21,
      min: Math.floor(speedHz[0]!),
      max: Math.ceil(speedHz.at(-1)! + stepHz),
      splitLine: {show: false},
    }),
    yAxis: sheetAxis(colours, '', {scale: true}),
    series: [line(own.before, colours.copper, 'diamond'), line(own.after, colours.petrol, 'circle')],
  };
}
