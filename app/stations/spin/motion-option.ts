/** Speeds and throttle of a run as a chart: every motor in a line of its own colour and dash. */
import type {EChartsCoreOption} from 'echarts/core';
import {sheetAxis, sheetColours} from '../../charts/chart.component';
import type {MotionRun} from '../../state/spin/motion.store';

const tones = ['petrol', 'copper', 'moss', 'plum', 'ochre', 'ink'] as const;
const dashes: readonly (readonly number[])[] = [
  [],
  [7, 3],
  [2, 2],
  [9, 3, 2, 3],
  [5, 2],
  [1, 3],
  [12, 3],
  [3, 3, 9, 3],
];

/** How the line of a motor is drawn, for legend and chart alike. */
export const motorLine = (motor: number): {readonly tone: (typeof tones)[number]; readonly dash: string} => ({
  tone: tones[motor % tones.length]!,
  dash: dashes[motor % dashes.length]!.join(' '),
});

const typeOf = (motor: number) =>
  dashes[motor % dashes.length]!.length ? [...dashes[motor % dashes.length]!] : 'solid';

type Colours = ReturnType<typeof sheetColours>;

const points = (values: Float64Array, times: Float64Array) => Array.from(times, (t, i) => [t, values[i]!]);
const lineOf = (values: Float64Array, times: Float64Array) => ({
  type: 'line',
  showSymbol: false,
  sampling: 'minmax',
  data: points(values, times),
});

/** The earlier run lies below, thin and without dashes. */
export function motionOption(run: MotionRun, before: MotionRun | undefined): EChartsCoreOption {
  const colours = sheetColours();
  return {
    animation: false,
    grid: {left: 52, right: 44, top: 26, bottom: 24},
    tooltip: cursor(colours),
    ...axesOf(run, colours),
    series: [
      throttleLine(run, colours),
      ...earlierLines(before, colours),
      ...speedLines(run, colours),
      marks(run, colours),
    ],
  };
}

const cursor = (colours: Colours) => ({
  trigger: 'axis',
  axisPointer: {type: 'line', lineStyle: {color: colours.ink3}},
  backgroundColor: colours.sheet,
  borderColor: colours.rule,
  borderRadius: 0,
  padding: 6,
  shadowBlur: 0,
  textStyle: {color: colours.ink, fontSize: 12},
  valueFormatter: (value: unknown) => (typeof value === 'number' ? value.toFixed(0) : ''),
});

function axesOf({trace}: MotionRun, colours: Colours) {
  const name = {nameGap: 9, nameTextStyle: {align: 'right', color: colours.ink2, fontSize: 11}};
  return {
    xAxis: sheetAxis(colours, '', {
      min: 0,
      max: Math.ceil((trace.timeS.at(-1) ?? 1) * 2) / 2,
      axisLabel: {color: colours.ink3, fontSize: 11, formatter: (s: number) => `${Number(s.toFixed(1))} s`},
      splitLine: {show: false},
    }),
    yAxis: [
      sheetAxis(colours, 'rpm', {min: 0, ...name}),
      sheetAxis(colours, '% throttle', {min: 0, max: 100, position: 'right', splitLine: {show: false}, ...name}),
    ],
  };
}

const throttleLine = ({trace, outputs}: MotionRun, colours: Colours) => ({
  ...lineOf(
    trace.motors[outputs[0]!]!.throttle.map((t) => t * 100),
    trace.timeS,
  ),
  name: 'throttle, %',
  step: 'end',
  yAxisIndex: 1,
  lineStyle: {color: colours.ink3, width: 1},
  areaStyle: {color: colours.rule2},
});

const earlierLines = (before: MotionRun | undefined, colours: Colours) =>
  (before?.outputs ?? []).map((m) => ({
    ...lineOf(before!.trace.motors[m]!.rpm, before!.trace.timeS),
    name: `motor ${m + 1}, before`,
    lineStyle: {color: colours.ink3, width: 0.8, opacity: 0.6},
  }));

const speedLines = ({trace, outputs}: MotionRun, colours: Colours) =>
  outputs.map((m) => ({
    ...lineOf(trace.motors[m]!.rpm, trace.timeS),
    name: `motor ${m + 1}, rpm`,
    lineStyle: {color: colours[motorLine(m).tone], width: 1.6, type: typeOf(m)},
    itemStyle: {color: colours[motorLine(m).tone]},
  }));

/** Where a motor stuttered or lost step. */
function marks({trace, report}: MotionRun, colours: Colours) {
  const at = report.motors.flatMap(({stutters, desyncs}, m) => [...stutters, ...desyncs].map((t) => [m, t] as const));
  return {
    type: 'line',
    name: 'lost step or stutter',
    lineStyle: {width: 0},
    symbol: 'triangle',
    symbolSize: 10,
    itemStyle: {color: colours.copper},
    data: at.map(([m, t]) => [t, trace.motors[m]!.rpm[trace.timeS.findIndex((s) => s >= t)] ?? 0]),
  };
}
