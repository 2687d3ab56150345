/** Draws a timeline on a canvas: levels of each wire, and below them bits, groups and meanings of its frames. */
import type {Frame} from '@core/capture/decode/frames';
import {sawHigh, sawLow, sawUnknown} from '@core/capture/read/level-columns';
import type {TimelineWire} from '@core/capture/ask/timeline';
import type {sheetColours} from '../../../charts/chart.component';
import {tickStep, timeText, type Span} from './timeline-view';

export const [axisPx, lanePx, namePx] = [20, 62, 96];
const [top, foot] = [8, 30];
const monoSmall = '11px "Atkinson Hyperlegible Mono Variable", monospace';

interface TimelineDrawing {
  readonly span: Span;
  /** What `wires` was asked for: while it is moved it is drawn where it now lies. */
  readonly of: Span;
  readonly names: readonly string[];
  readonly wires: readonly TimelineWire[];
  readonly looked: number;
  readonly row: number | undefined;
  readonly width: number;
  readonly colours: ReturnType<typeof sheetColours>;
}

export function drawTimeline(pen: CanvasRenderingContext2D, d: TimelineDrawing): void {
  const height = axisPx + d.wires.length * lanePx;
  pen.clearRect(0, 0, d.width, height);
  pen.font = monoSmall;
  const x = (t: number) => namePx + ((t - d.span.from) / (d.span.to - d.span.from)) * (d.width - namePx);
  drawAxis(pen, d, {x, height});
  d.wires.forEach((wire, lane) => {
    const y = axisPx + lane * lanePx;
    pen.save();
    pen.translate(0, y);
    pen.fillStyle = lane === d.looked ? d.colours.petrol : d.colours.ink2;
    pen.fillText(clipped(pen, d.names[lane] ?? '', namePx - 10), 2, foot - 8);
    pen.beginPath();
    pen.rect(namePx, 0, d.width - namePx, lanePx);
    pen.clip();
    drawLevels(pen, wire, d, x);
    drawFaults(pen, wire, d, x);
    for (const frame of wire.frames) drawFrame(pen, frame, {d, x, isPicked: lane === d.looked && frame.row === d.row});
    pen.restore();
  });
}

function drawAxis(
  pen: CanvasRenderingContext2D,
  {span, width, colours}: TimelineDrawing,
  {x, height}: {x: (t: number) => number; height: number},
): void {
  const step = tickStep(span, Math.max(2, Math.floor((width - namePx) / 110)));
  pen.strokeStyle = colours.rule2;
  pen.fillStyle = colours.ink2;
  pen.beginPath();
  for (let i = Math.ceil(span.from / step); i * step <= span.to; i++) {
    const at = Math.round(x(i * step)) + 0.5;
    if (at < namePx) continue;
    pen.moveTo(at, axisPx - 6);
    pen.lineTo(at, height);
    pen.fillText(timeText(i * step, step), at + 3, 11);
  }
  pen.stroke();
}

function drawLevels(
  pen: CanvasRenderingContext2D,
  {levels}: TimelineWire,
  {of, colours}: TimelineDrawing,
  x: (t: number) => number,
): void {
  const step = (of.to - of.from) / levels.length;
  pen.strokeStyle = colours.ink;
  pen.lineWidth = 1.2;
  pen.beginPath();
  let before = -1;
  for (let c = 0; c < levels.length; c++) {
    const seen = levels[c]!;
    const [left, right] = [x(of.from + c * step), x(of.from + (c + 1) * step)];
    if (seen & sawUnknown) {
      pen.fillStyle = colours.rule;
      pen.fillRect(left, top, right - left + 0.5, foot - top);
      before = -1;
      continue;
    }
    const isBoth = seen === (sawLow | sawHigh);
    if (isBoth) {
      // More edges than columns: a field, so that what stands out of it is seen.
      pen.fillStyle = colours.ink3;
      pen.fillRect(left, top, right - left + 0.5, foot - top);
    } else {
      if (before !== -1 && before !== seen) {
        pen.moveTo(left, top);
        pen.lineTo(left, foot);
      }
      const y = seen === sawHigh ? top : foot;
      pen.moveTo(left, y);
      pen.lineTo(right, y);
    }
    before = isBoth ? -1 : seen;
  }
  pen.stroke();
}

function drawFaults(
  pen: CanvasRenderingContext2D,
  {faults, levels, frames}: TimelineWire,
  {of, colours}: TimelineDrawing,
  x: (t: number) => number,
): void {
  if (frames.length) return;
  pen.fillStyle = colours.copper;
  const step = (of.to - of.from) / levels.length;
  for (const column of faults) {
    const at = x(of.from + (column + 0.5) * step);
    pen.beginPath();
    pen.moveTo(at, foot + 4);
    pen.lineTo(at - 4, foot + 12);
    pen.lineTo(at + 4, foot + 12);
    pen.fill();
  }
}

function drawFrame(
  pen: CanvasRenderingContext2D,
  frame: Frame,
  {d, x, isPicked}: {d: TimelineDrawing; x: (t: number) => number; isPicked: boolean},
): void {
  const {colours} = d;
  const [left, right] = [x(frame.from), Math.max(x(frame.to), x(frame.from) + 3)];
  const colour = frame.ok ? (frame.kind === 'command' ? colours.petrol : colours.plum) : colours.copper;
  pen.fillStyle = colour;
  pen.fillRect(left, foot + 4, right - left, isPicked ? 5 : 2);
  const wide = right - left;
  const room = wide > 40 ? wide : 40;
  if (!frame.ok) pen.fillText('✕', left, foot + 18);
  const textAt = frame.ok ? left : left + 10;
  if (frame.bits && wide / frame.bits.length > 7) {
    const parts = partsOf(frame);
    const bit = wide / partLength(parts);
    let at = left;
    for (const {name, bits} of parts) {
      pen.fillStyle = colours.ink;
      [...bits].forEach((b, i) => pen.fillText(b, at + (i + 0.5) * bit - 3, foot + 17));
      pen.fillStyle = colours.ink2;
      pen.fillRect(at + 1, foot + 20, bits.length * bit - 2, 1);
      if (name) pen.fillText(clipped(pen, name, bits.length * bit - 2), at + 2, foot + 30);
      at += bits.length * bit;
    }
    return;
  }
  pen.fillStyle = colour;
  if (wide > 24 || !frame.ok) pen.fillText(clipped(pen, frame.text, room), textAt, foot + 18);
}

interface Part {
  readonly name: string;
  readonly bits: string;
}

/** Groups of bits with what they stand for. */
function partsOf({kind, bits = '', text}: Frame): Part[] {
  if (kind === 'command')
    return [
      {name: text, bits: bits.slice(0, 11)},
      {name: 'T', bits: bits.slice(11, 12)},
      {name: 'sum', bits: bits.slice(12)},
    ];
  return [
    {name: 'exp', bits: bits.slice(0, 3)},
    {name: text, bits: bits.slice(3)},
  ];
}

const partLength = (parts: readonly Part[]): number => parts.reduce((n, p) => n + p.bits.length, 0);

/** As much of a text as fits, px. */
function clipped(pen: CanvasRenderingContext2D, text: string, width: number): string {
  if (pen.measureText(text).width <= width) return text;
  const most = Math.floor(width / pen.measureText('0').width) - 1;
  return most > 0 ? `${text.slice(0, most)}…` : '';
}
