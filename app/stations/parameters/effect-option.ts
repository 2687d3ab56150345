/** Chart option of an effect: its lines with their bounds, today's values and the plan marked. */
import type {Effect, EffectLine} from '@core/motor/effects/effect';
import {monoFont, sansFont, sheetAxis, sheetColours} from '../../charts/chart.component';

interface EffectMarks {
  /** Values found and values planned; one that is both is marked once. */
  readonly found: readonly number[];
  readonly planned: readonly number[];
}

export function effectOption({lines, xName, yName, xOf, xStep, xLabel}: Effect, {found, planned}: EffectMarks) {
  const colours = sheetColours();
  const points = lines.flatMap((l) => l.points);
  const xs = points.map((p) => p.x);
  const [from, to] = [Math.min(...xs), Math.max(...xs)];
  const axis = niceAxis(Math.min(0, ...points.map((p) => p.low)), Math.max(...points.map((p) => p.high)));
  const mark = (x: number, color: string, type: 'solid' | 'dashed', text: string) => ({
    type: 'line',
    silent: true,
    symbol: 'none',
    data: [
      [x, axis.min],
      [x, axis.max],
    ],
    lineStyle: {color, width: 2, type},
    endLabel: {show: true, formatter: text, color, fontSize: 11, fontFamily: monoFont, offset: [-4, 7]},
    z: 5,
  });
  return {
    animation: false,
    grid: {left: 44, right: 66, top: 22, bottom: 38},
    xAxis: sheetAxis(colours, xName, {
      min: from,
      max: to,
      interval: xStep,
      ...(xLabel && {axisLabel: {...labelStyle(colours.ink3), formatter: xLabel}}),
      nameLocation: 'middle',
      nameGap: 22,
      splitLine: {show: false},
      axisLine: {show: true, lineStyle: {color: colours.rule}},
    }),
    yAxis: sheetAxis(colours, yName, {...axis, nameTextStyle: nameStyle(colours.ink2)}),
    series: [
      ...lines.flatMap((line, i) => band(line, [colours.petrol, colours.plum][i % 2]!, i)),
      ...found.filter((x) => !planned.includes(x)).map((x) => mark(xOf(x), colours.copper, 'dashed', 'found')),
      ...planned.map((x) => mark(xOf(x), colours.petrol, 'solid', found.includes(x) ? 'plan, found' : 'plan')),
    ],
  };
}

const labelStyle = (color: string) => ({color, fontFamily: monoFont, fontSize: 11});
const nameStyle = (color: string) => ({
  color,
  fontFamily: sansFont,
  fontSize: 11,
  align: 'left' as const,
  padding: [0, 0, 0, -36],
});

/** Ends and marks of an axis that shows `low` to `high` in about five steps of 1, 2 or 5 times a power of ten. */
export function niceAxis(
  low: number,
  high: number,
): {readonly min: number; readonly max: number; readonly interval: number} {
  const rough = Math.max(high - low, 1e-9) / 5;
  const power = 10 ** Math.floor(Math.log10(rough));
  const interval = power * ([1, 2, 5].find((n) => n * power >= rough) ?? 10);
  return {min: Math.floor(low / interval) * interval, max: Math.ceil(high / interval) * interval, interval};
}

/** The middle as a line, the bounds as a shade between two stacked invisible lines. */
function band({name, points}: EffectLine, color: string, index: number) {
  const shade = (y: (p: EffectLine['points'][number]) => number, fill: boolean) => ({
    type: 'line',
    silent: true,
    symbol: 'none',
    // Bounds below zero are real here: all values go into the stack.
    stackStrategy: 'all',
    stack: `bounds ${index}`,
    data: points.map((p) => [p.x, y(p)]),
    lineStyle: {opacity: 0},
    ...(fill && {areaStyle: {color, opacity: 0.13}}),
  });
  return [
    shade((p) => p.low, false),
    shade((p) => p.high - p.low, true),
    {
      type: 'line',
      name,
      silent: true,
      symbol: 'none',
      data: points.map((p) => [p.x, p.y]),
      lineStyle: {color, width: 2, type: index ? 'dashed' : 'solid'},
      itemStyle: {color},
    },
  ];
}
