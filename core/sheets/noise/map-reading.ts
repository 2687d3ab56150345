/** What stands under the cursor of a noise map, in words. */
import {decibels} from '../../spectra/welch';
import type {NoiseMap} from '../../spectra/noise-map';

interface MapScale {
  /** Right edge, in the unit of x. */
  readonly maxX: number;
  readonly xUnit: string;
  readonly yUnit: string;
}

/** Empty beside the map. */
export function mapReading(
  {stepX, columns, rows, from, stepY, density, counts}: NoiseMap,
  at: {readonly x: number; readonly y: number},
  {maxX, xUnit, yUnit}: MapScale,
): string {
  const [column, row] = [Math.round(at.x / stepX), Math.floor((at.y - from) / stepY)];
  if (column < 0 || column >= columns || row < 0 || row >= rows) return '';
  const value = density[row * columns + column]!;
  const place = `${figure(at.x, maxX)} ${xUnit}, ${figure(at.y, from + rows * stepY)} ${yUnit}`;
  return Number.isNaN(value)
    ? `${place}: not flown`
    : `${place}: ${decibels(value).toFixed(1)} dB, ${counts[row]} segments`;
}

const figure = (value: number, max: number): string => value.toFixed(max < 20 ? 2 : max < 100 ? 1 : 0);
