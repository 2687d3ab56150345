/** The bit rate of DShot commands on a wire, found from the spacing of bits and measured. */
import {bitUs, digitalProtocols, protocolRate, type DigitalProtocol} from '../../dshot/protocol';

/** Bits of a command. */
export const commandBits = 16;
/** The next bit may begin early or late by so much of a bit: jitter of both, rates of chips, edges that a glitch moved. */
export const bitTolerance = 0.3;

export interface BitRate {
  readonly protocol: DigitalProtocol;
  /** Time of one bit as measured, s. */
  readonly bitS: number;
  /** Against the protocol's own, %. */
  readonly errorPercent: number;
}

/** Of a long wire its begin is measured, where that holds so many commands. */
const [beginEdges, enoughCommands] = [200_000, 1000];

/** @param edges without glitches. @param lead index of the first edge that leaves the level at rest. */
export function findBitRate(edges: Float64Array, lead: number): BitRate | undefined {
  const begin = edges.length > beginEdges ? rateOf(edges.subarray(0, beginEdges), lead) : undefined;
  const found = begin && begin.steps.length >= enoughCommands ? begin : rateOf(edges, lead);
  if (!found) return undefined;
  const {protocol, steps} = found;
  const bitS = steps.reduce((sum, step) => sum + step, 0) / steps.length;
  return {protocol, bitS, errorPercent: (1 / bitS / (protocolRate[protocol] * 1000) - 1) * 100};
}

interface Trains {
  readonly protocol: DigitalProtocol;
  readonly steps: readonly number[];
}

/** The protocol that most trains go with. */
function rateOf(edges: Float64Array, lead: number): Trains | undefined {
  let best: Trains | undefined;
  for (const protocol of digitalProtocols) {
    const steps = stepsOf(edges, lead, bitUs(protocol) * 1e-6);
    if (steps.length > (best?.steps.length ?? 0)) best = {protocol, steps};
  }
  return best;
}

/** Time of a bit in each train of sixteen leading edges, by least squares over all of them, s. */
function stepsOf(edges: Float64Array, lead: number, bitS: number): number[] {
  const steps: number[] = [];
  let run = 0;
  for (let i = lead + 2; i < edges.length; i += 2) {
    run = Math.abs((edges[i]! - edges[i - 2]!) / bitS - 1) <= bitTolerance ? run + 1 : 0;
    // The bit after the sixteenth must not follow: longer trains are no commands.
    const next = (edges[i + 2] ?? Infinity) - edges[i]!;
    if (run === commandBits - 1 && next / bitS > 1 + bitTolerance) steps.push(slope(edges, i - 2 * (commandBits - 1)));
  }
  return steps;
}

function slope(edges: Float64Array, first: number): number {
  const middle = (commandBits - 1) / 2;
  let [up, across] = [0, 0];
  for (let bit = 0; bit < commandBits; bit++) {
    up += (bit - middle) * (edges[first + 2 * bit]! - edges[first]!);
    across += (bit - middle) ** 2;
  }
  return up / across;
}
