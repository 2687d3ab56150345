/**
 * The scale of noise maps: from paper to ink over petrol, lightness falling all the way. So louder is darker for every eye
 * and on paper without colour.
 */
const ramp = [
  [251, 249, 243],
  [205, 222, 219],
  [126, 172, 174],
  [48, 112, 124],
  [22, 62, 74],
  [9, 16, 22],
] as const;

/** Levels of the lightest and the darkest colour, dB re 1 (deg/s)²/Hz. */
const range = {lowest: -30, highest: 30};

/** Red, green, blue of a level, 0…255. */
export function colourAt(db: number): readonly [number, number, number] {
  const share = Math.min(0.9999, Math.max(0, (db - range.lowest) / (range.highest - range.lowest)));
  const at = share * (ramp.length - 1);
  const [a, b] = [ramp[Math.floor(at)]!, ramp[Math.floor(at) + 1]!];
  const mix = (i: 0 | 1 | 2) => Math.round(a[i] + (b[i] - a[i]) * (at - Math.floor(at)));
  return [mix(0), mix(1), mix(2)];
}

/** The scale as it is drawn beside a map. */
export const mapLevels = {
  marks: ramp.map((_, i) => {
    const db = range.lowest + ((range.highest - range.lowest) * i) / (ramp.length - 1);
    return {db, colour: `rgb(${colourAt(db).join(' ')})`};
  }),
};
