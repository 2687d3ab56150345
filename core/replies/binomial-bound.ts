/** Bounds of a share that was counted: exact ones of the binomial distribution (Clopper and Pearson 1934). */

/**
 * The largest true share at which so few of `asked` would be lost in one of twenty times; 1 where all were lost, and where none
 * was asked for. With none lost it is 1 − 0.05^(1/n), near 3/n.
 */
export function upperBound(lost: number, asked: number, certainty = 0.95): number {
  if (asked <= 0 || lost >= asked) return 1;
  if (lost === 0) return 1 - (1 - certainty) ** (1 / asked);
  // P(X ≤ lost) at share p is 1 − I_p(lost + 1, asked − lost), which falls with p.
  let [low, high] = [lost / asked, 1];
  while (high - low > 1e-12 * high) {
    const middle = (low + high) / 2;
    if (middle === low || middle === high) break;
    if (betaShare(middle, lost + 1, asked - lost) < certainty) low = middle;
    else high = middle;
  }
  return high;
}

/** The smallest true share at which so many of `asked` would be lost in one of twenty times; 0 where none was. */
export const lowerBound = (lost: number, asked: number, certainty = 0.95): number =>
  asked <= 0 ? 0 : 1 - upperBound(asked - lost, asked, certainty);

/** Regularised incomplete beta function I_x(a, b), by its continued fraction (DLMF 8.17.22). */
export function betaShare(x: number, a: number, b: number): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  const front = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log1p(-x));
  // It converges fast below the mean; above it the other tail is taken.
  return x < (a + 1) / (a + b + 2) ? (front * fraction(x, a, b)) / a : 1 - (front * fraction(1 - x, b, a)) / b;
}

/** Lentz's method. */
function fraction(x: number, a: number, b: number): number {
  const tiny = 1e-300;
  const away = (v: number) => (Math.abs(v) < tiny ? tiny : v);
  let c = 1;
  let d = 1 / away(1 - ((a + b) * x) / (a + 1));
  let sum = d;
  for (let m = 1; m <= 10_000; m++) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
    d = 1 / away(1 + even * d);
    c = away(1 + even / c);
    sum *= d * c;
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
    d = 1 / away(1 + odd * d);
    c = away(1 + odd / c);
    sum *= d * c;
    if (Math.abs(d * c - 1) < 1e-15) break;
  }
  return sum;
}

/** ln Γ(x), x > 0, by Stirling's series from 10 up (DLMF 5.11.1). */
function logGamma(x: number): number {
  let [at, shift] = [x, 0];
  for (; at < 10; at++) shift += Math.log(at);
  const series = 1 / (12 * at) - 1 / (360 * at ** 3) + 1 / (1260 * at ** 5) - 1 / (1680 * at ** 7);
  return (at - 0.5) * Math.log(at) - at + 0.5 * Math.log(2 * Math.PI) + series - shift;
}
