/** Why a chain was chosen, in plain words with the figures of the flight. */
import {axes} from '../flight/mapping';
import type {FilterChain, LowPassStage} from '../filters/chain';
import {lowPassName} from '../filters/section';
import {capital} from '../words/capital';
import type {FlightReport} from '../noise/flight-report';
import {isSameResonance} from '../noise/resonances';

/** Power of all motors and axes on each multiple of motor speed, as a share of all noise: 0…1; undefined where unknown. */
export function orderShares(
  {orders}: Pick<FlightReport, 'orders'>,
  noiseRms: number,
): ReadonlyMap<number, number | undefined> {
  const keys = [...(orders[0]?.orders.keys() ?? [])];
  return new Map(
    keys.map((order) => {
      let power = 0;
      for (const motor of orders) {
        const own = motor.orders.get(order);
        if (!own) return [order, undefined];
        for (const axis of axes) power += own[axis].amplitude ** 2 / 2;
      }
      return [order, Math.min(1, power / Math.max(1e-9, noiseRms * noiseRms))];
    }),
  );
}

const words = ['no', 'one', 'two', 'three', 'four', 'five'];
/** With a space that does not break. */
const percent = (share: number) => `${Number((share * 100).toPrecision(share < 0.1 ? 1 : 2))}\u00a0%`;
const times = (order: number) => `${order}×`;

export function reasonsFor(
  chain: FilterChain,
  report: Pick<FlightReport, 'orders' | 'resonances'>,
  noiseRms: number,
): string[] {
  const shares = orderShares(report, noiseRms);
  const chosen = chain.motor.orders.map((o) => o.order);
  const left = [...shares].filter(([order]) => !chosen.includes(order));
  return [harmonics(chosen, shares, left), moving(chain, report), lowPass(chain)].filter((r) => r !== '');
}

/** A harmonic with less than this share of the noise is not worth its notch by anybody's measure. */
const littleShare = 0.02;

function harmonics(
  chosen: readonly number[],
  shares: ReadonlyMap<number, number | undefined>,
  left: readonly (readonly [number, number | undefined])[],
): string {
  const told = (order: number) => {
    const share = shares.get(order);
    return share === undefined ? times(order) : `${times(order)} carries ${percent(share)} of the noise`;
  };
  const count = capital(words[chosen.length] ?? String(chosen.length));
  const name = `${count} ${chosen.length === 1 ? 'harmonic' : 'harmonics'}${chosen.length ? ` (${chosen.map(times).join(' ')})` : ''}`;
  const carried = chosen.map(told).join(', ');
  if (!left.length) return `${name}: ${carried}.`;
  const isLittle = left.every(([, share]) => share !== undefined && share < littleShare);
  const rest = left.map(([order]) => told(order)).join(', ');
  if (isLittle && chosen.length) return `${name} ${chosen.length === 1 ? 'is' : 'are'} enough: ${rest}.`;
  return `${name}${carried ? `: ${carried}` : ''}; ${rest}, which the other filters take.`;
}

function moving({moving: {count}}: FilterChain, {resonances}: Pick<FlightReport, 'resonances'>): string {
  const fixed = resonances
    .map((r) => Math.round(r.hz))
    .filter((hz, i, all) => !all.slice(0, i).some((other) => isSameResonance(other, hz)));
  if (count)
    return `${count} moving ${count === 1 ? 'notch' : 'notches'} for what no motor makes${fixed.length ? `, such as ${fixed.slice(0, 2).join(' and ')} Hz` : ''}.`;
  return fixed.length
    ? `No moving notch: what stands at ${fixed.slice(0, 2).join(' and ')} Hz costs less through the low-pass.`
    : 'No moving notch: nothing stands out that no motor makes.';
}

function lowPass({gyroLowPasses: [low]}: FilterChain): string {
  return low
    ? `${capital(lowPassInWords(low))} takes the rest; a lower one would cost more delay than it takes noise.`
    : '';
}

/** A low-pass as it is told, with its kind. */
export const lowPassInWords = ({kind, hz, fullHz}: LowPassStage): string =>
  `${lowPassName[kind]} low-pass ${hz.toFixed(0)}${fullHz === undefined ? '' : `–${fullHz.toFixed(0)}`}\u00a0Hz${fullHz === undefined ? '' : ' with throttle'}`;

/** A chain in one line: notches on motor speed, moving ones, the low-pass. */
export function chainWords({motor, moving, gyroLowPasses: [low]}: FilterChain): string {
  const orders = motor.orders.length
    ? `notches ${motor.orders.map((o) => `${o.order}×`).join(' ')}, Q ${motor.q}`
    : 'no motor-speed notches';
  const rest = moving.count ? `${moving.count} moving` : 'no moving notch';
  return `${orders}; ${rest}; ${low ? lowPassInWords(low) : 'no low-pass'}`;
}
