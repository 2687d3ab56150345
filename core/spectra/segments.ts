/** Where segments of one length begin in the parts of a signal that have no break. */
export interface Part {
  readonly start: number;
  /** Exclusive. */
  readonly end: number;
}

export function segmentStarts(
  parts: readonly Part[],
  {segment, hop}: {readonly segment: number; readonly hop: number},
): Int32Array {
  const count = ({start, end}: Part) => Math.max(0, Math.floor((end - start - segment) / hop) + 1);
  const starts = new Int32Array(
    parts.reduce((sum, part) => sum + (part.end - part.start < segment ? 0 : count(part)), 0),
  );
  let i = 0;
  for (const part of parts) for (let at = part.start; at + segment <= part.end; at += hop) starts[i++] = at;
  return starts;
}
