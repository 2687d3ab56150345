/** The mixer that a flight controller holds beside the one that its craft needs. */
import {mixerAxes, type Mixer, type MixerAxis, type MixerRow} from './mixer';

interface MixerDifference {
  /** Output whose row differs; undefined where a whole column does. */
  readonly output: number | undefined;
  readonly axis: MixerAxis;
  /** As held and as computed, each with the largest of its column as 1. */
  readonly held: number;
  readonly wanted: number;
  readonly text: string;
}

/** Rows agree within this; what arms measured to a few per cent give. */
const tolerance = 0.08;

/**
 * Where the held rows, one per output, are not what the arms need. Columns are compared each in its own scale: which one a
 * controller uses says nothing. `arms` is the arm of each output. Undefined when the rows are not those of this craft's outputs.
 */
export function mixerDifferences(
  held: readonly MixerRow[],
  {mixer, arms}: {readonly mixer: Mixer; readonly arms: readonly number[]},
): MixerDifference[] | undefined {
  if (held.length !== mixer.rows.length || arms.length !== held.length) return undefined;
  const wantedOf = (output: number) => mixer.rows[arms[output]!];
  return mixerAxes.flatMap((axis) => {
    const own = scaled(held.map((row) => row[axis]));
    const needed = scaled(held.map((_, output) => wantedOf(output)?.[axis] ?? 0));
    const off = own.flatMap((value, output) => (Math.abs(value - needed[output]!) > tolerance ? [output] : []));
    const reversed = off.length > 0 && own.every((value, output) => Math.abs(value + needed[output]!) <= tolerance);
    if (reversed) return [columnReversed(axis)];
    return off.map((output) => rowDiffers({output, axis, held: own[output]!, wanted: needed[output]!}));
  });
}

/** The largest of a column becomes 1; one of nothing stays. */
function scaled(values: readonly number[]): number[] {
  const most = Math.max(...values.map(Math.abs));
  return values.map((value) => (most > 0 ? value / most : 0));
}

const columnReversed = (axis: MixerAxis): MixerDifference => ({
  output: undefined,
  axis,
  held: -1,
  wanted: 1,
  text: `Its ${axis} is reversed on every output.`,
});

const rowDiffers = (d: Omit<MixerDifference, 'text'> & {readonly output: number}): MixerDifference => ({
  ...d,
  text: `Output ${d.output + 1} does ${signed(d.held)} for ${d.axis}; its arm needs ${signed(d.wanted)}.`,
});

const signed = (value: number): string => `${value < 0 ? '−' : '+'}${Math.abs(value).toFixed(2)}`;
