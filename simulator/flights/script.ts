/** What a simulated pilot does: phases one after the other, each a course of throttle. */

export const phaseKinds = ['hover', 'sweep', 'cruise', 'full power', 'cuts', 'punches'] as const;
type PhaseKind = (typeof phaseKinds)[number];

export interface Phase {
  readonly kind: PhaseKind;
  readonly seconds: number;
}

/** Everything that an analysis wants to see, within half a minute or less. */
export const testFlight = (seconds: number): Phase[] => [
  {kind: 'hover', seconds: 0.12 * seconds},
  {kind: 'sweep', seconds: 0.36 * seconds},
  {kind: 'cruise', seconds: 0.12 * seconds},
  {kind: 'cuts', seconds: 0.2 * seconds},
  {kind: 'punches', seconds: 0.14 * seconds},
  {kind: 'full power', seconds: 0.06 * seconds},
];

/** Throttle, 0…1, `t` seconds into a phase, around what the craft hovers at. */
function throttleIn({kind, seconds}: Phase, t: number, hover: number): number {
  switch (kind) {
    case 'hover':
      return hover + 0.02 * Math.sin(2 * Math.PI * 0.4 * t);
    case 'sweep':
      return 0.12 + 0.8 * (0.5 - 0.5 * Math.cos((2 * Math.PI * 2 * t) / seconds));
    case 'cruise':
      return hover + 0.16 + 0.06 * Math.sin(2 * Math.PI * 0.5 * t);
    case 'full power':
      return 0.97;
    case 'cuts':
      return t % 1.1 < 0.6 ? hover + 0.35 : 0.06;
    case 'punches':
      return t % 1.2 < 0.35 ? 0.92 : hover;
  }
}

export const secondsOf = (phases: readonly Phase[]): number => phases.reduce((sum, p) => sum + p.seconds, 0);

/** What the pilot flicks the stick of an axis by, deg/s: in hover and cruise, this way and back, roll and pitch in turn. */
export function stickStep(phases: readonly Phase[], t: number, axis: number): number {
  let from = 0;
  for (const {kind, seconds} of phases) {
    if (t < from + seconds) {
      if ((kind !== 'hover' && kind !== 'cruise') || axis === 2) return 0;
      const beat = Math.floor((t - from) / flickS + axis / 2) % 4;
      return [flickDegS, 0, -flickDegS, 0][beat]!;
    }
    from += seconds;
  }
  return 0;
}
const flickS = 0.24;
const flickDegS = 130;

/** Throttle at a moment of the whole flight. */
export function throttleAt(phases: readonly Phase[], t: number, hover: number): number {
  let from = 0;
  for (const phase of phases) {
    if (t < from + phase.seconds) return throttleIn(phase, t - from, hover);
    from += phase.seconds;
  }
  return hover;
}
