/** Half of a 95 % interval in deviations: of a known deviation, and of one that was told from few values. */

/** Quantile 0.975 of the normal distribution. */
export const normal95 = 1.959964;

/**
 * Quantile 0.975 of Student's distribution, within 1 % from 3 degrees of freedom on: Abramowitz and Stegun 26.7.5, as we
 * remember it.
 *
 * @param freedom degrees of freedom, at least 3; need not be whole.
 */
export function student95(freedom: number): number {
  const [z, v] = [normal95, freedom];
  const [z2, z3] = [z ** 2, z ** 3];
  return (
    z +
    (z3 + z) / (4 * v) +
    (z * (5 * z2 ** 2 + 16 * z2 + 3)) / (96 * v ** 2) +
    (z * (3 * z2 ** 3 + 19 * z2 ** 2 + 17 * z2 - 15)) / (384 * v ** 3)
  );
}
