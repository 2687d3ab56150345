/** Paints a map of noise on a canvas, with its lines: loud is dark. */
import type {MapLine} from '@core/sheets/noise/noise-maps';
import type {NoiseMap} from '@core/spectra/noise-map';
import {decibels} from '@core/spectra/welch';
import {colourAt} from './map-colours';

interface Drawn {
  readonly map: NoiseMap;
  readonly maxX: number;
  readonly lines: readonly MapLine[];
}

export function drawMap(
  canvas: HTMLCanvasElement,
  {width, height}: {width: number; height: number},
  {map, maxX, lines}: Drawn,
): void {
  const ratio = window.devicePixelRatio || 1;
  canvas.width = Math.round(width * ratio);
  canvas.height = Math.round(height * ratio);
  const context = canvas.getContext('2d');
  if (!context) return;
  const columns = Math.max(1, Math.min(map.columns, Math.ceil(maxX / map.stepX)));
  const image = new ImageData(columns, map.rows);
  for (let row = 0; row < map.rows; row++)
    for (let k = 0; k < columns; k++) {
      const value = map.density[row * map.columns + k]!;
      const place = 4 * ((map.rows - 1 - row) * columns + k);
      if (Number.isNaN(value)) continue;
      const [r, g, b] = colourAt(decibels(value));
      image.data.set([r, g, b, 255], place);
    }
  const small = new OffscreenCanvas(columns, map.rows);
  small.getContext('2d')!.putImageData(image, 0, 0);
  context.imageSmoothingEnabled = false;
  context.drawImage(small, 0, 0, (columns * map.stepX * canvas.width) / maxX, canvas.height);
  context.scale(ratio, ratio);
  for (const line of lines) drawLine(context, line, {width, height, maxX, map});
}

/** Light with a dark rim, so that it reads on every shade. */
function drawLine(
  context: CanvasRenderingContext2D,
  {points, dash, label}: MapLine,
  {width, height, maxX, map}: {width: number; height: number; maxX: number; map: NoiseMap},
): void {
  const place = ([x, y]: readonly [number, number]) =>
    [(x / maxX) * width, height - ((y - map.from) / (map.rows * map.stepY)) * height] as const;
  const shown = points.filter(([x, y]) => x <= maxX && !Number.isNaN(y) && !Number.isNaN(x));
  if (shown.length < 2) return;
  for (const [style, thick] of [
    ['#1c2a30', 3.4],
    ['#fbf9f3', 1.5],
  ] as const) {
    context.beginPath();
    shown.forEach((point, i) => (i ? context.lineTo(...place(point)) : context.moveTo(...place(point))));
    context.strokeStyle = style;
    context.globalAlpha = style === '#1c2a30' ? 0.35 : 1;
    context.lineWidth = thick;
    context.setLineDash(style === '#1c2a30' ? [] : [...dash]);
    context.stroke();
  }
  context.globalAlpha = 1;
  const [x, y] = place(shown.at(-1)!);
  context.font = '700 12px "Atkinson Hyperlegible Next Variable", sans-serif';
  context.lineWidth = 3;
  context.setLineDash([]);
  context.strokeStyle = '#1c2a30';
  context.fillStyle = '#fbf9f3';
  const at = [Math.min(width - 22, x + 4), Math.max(13, y + 12)] as const;
  context.strokeText(label, ...at);
  context.fillText(label, ...at);
}
