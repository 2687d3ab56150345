/** What a firmware makes of a share of throw or throttle, 0 to 1, drawn as found and, where it differs, as planned. */
export interface Curve {
  readonly of: 'found' | 'planned';
  /** The share, and what comes of it. */
  readonly points: readonly (readonly [number, number])[];
}
