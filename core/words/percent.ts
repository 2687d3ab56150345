/** Percent with two figures that count, never rounded to nothing: 0.013 %, 1.2 %, 30 %. */
export function percent(share: number): string {
  if (share === 0) return '0 %';
  return `${Number((share * 100).toPrecision(2))} %`;
}

/** A share in whole percent: "30 %". */
export const wholePercent = (share: number): string => `${(share * 100).toFixed(0)} %`;
