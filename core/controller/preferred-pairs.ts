/** Which protocol and loop to take: the slowest that carry what the filters need. Faster loops cost load and shorten every bit. */
import {ratesFor} from './loop-rates';
import type {ControllerPlan} from './plan';
import {judgePair, protocolRows, type PairVerdict, type SignalPlace} from './signal-pair';

/** Every protocol at every usual rate, judged for one place. */
export const allPairs = (plan: ControllerPlan, place: SignalPlace): readonly PairVerdict[] =>
  protocolRows.flatMap((row) => ratesFor(place.gyroHz).map((loopHz) => judgePair(plan, {...row, loopHz}, place)));

/** A command should be with its ESC within so many µs, else it is old when it acts (common practice: DShot300, no source). */
const quickCommandUs = 60;
/** Filters that follow motors run in loops of so many Hz (common practice), where nobody knows how fast the motors turn. */
const usualLoopHz = 4000;
/** Processors below so many MHz run gyro and loop at 2 kHz (common practice). */
const small = {belowMhz: 100, loopHz: 2000} as const;

interface LoopNeed {
  readonly hz: number;
  /** A sentence that says why. */
  readonly why: string;
}

/** The slowest loop that carries the planned filters: a sampled line has to lie below half the rate (sampling theorem). */
export function loopNeed(plan: Pick<ControllerPlan, 'notchHarmonics' | 'clockMhz'>, place: SignalPlace): LoopNeed {
  const mhz = plan.clockMhz || place.clockMhz;
  if (mhz < small.belowMhz)
    return {
      hz: small.loopHz,
      why: `A processor of ${mhz} MHz runs gyro and loop at ${small.loopHz / 1000} kHz (common practice).`,
    };
  const {fastestHz} = place;
  if (fastestHz === undefined)
    return {hz: usualLoopHz, why: `Filters that follow motors run at ${usualLoopHz / 1000} kHz (common practice).`};
  const order = Math.max(1, ...plan.notchHarmonics);
  const lineHz = order * fastestHz;
  return {
    hz: 2 * lineHz,
    why: `Line ${order} of the motors reaches ${lineHz.toFixed(0)} Hz at full throttle; a loop has to run at twice that or more.`,
  };
}

/**
 * Feasible pairs with replies, since filters follow them, the best first: the slowest loop that carries the filters and those
 * above it, then the fastest of the rest; for each the slowest protocol whose commands are quick: longer bits are disturbed less.
 */
export function preferredPairs(plan: ControllerPlan, place: SignalPlace, most = 3): readonly PairVerdict[] {
  const good = allPairs(plan, place).filter((v) => v.verdict === 'feasible' && v.pair.replies);
  const need = loopNeed(plan, place);
  const loops = [...new Set(good.map((v) => v.pair.loopHz))].sort((a, b) => a - b);
  const [short, enough] = [loops.filter((hz) => hz < need.hz).reverse(), loops.filter((hz) => hz >= need.hz)];
  return [...enough, ...short].slice(0, most).map((loopHz) => {
    const own = good.filter((v) => v.pair.loopHz === loopHz);
    const quick = own.filter((v) => v.budget.wire.commandUs <= quickCommandUs);
    return (quick.length ? quick : own).reduce((a, b) => (b.slackUs < a.slackUs ? b : a));
  });
}
