/** "12,500", "−3.4": a number with its thousands apart and a true minus sign. */
export function grouped(value: number, digits = 0): string {
  const text = Math.abs(value).toLocaleString('en', {minimumFractionDigits: digits, maximumFractionDigits: digits});
  return `${value < 0 ? '−' : ''}${text}`;
}
