/**
 * Motors drawn the way they are built: magnets, laminations, turns and bearings with the tolerances of a workshop, and
 * constants computed from those. Nothing here knows how Bidex estimates a motor from its label.
 */
import type {MotorConstants} from '@core/motor/motor';
import type {Random} from '../random';

/** A class of motors as they are sold: size and the KV range it is wound for. */
export interface MotorClass {
  readonly size: string;
  readonly diameterMm: number;
  readonly heightMm: number;
  readonly kv: readonly [least: number, most: number];
  readonly poles: number;
  /** Cells it is flown with. */
  readonly cells: number;
}

const motorClass = (size: string, kv: readonly [number, number], poles: number, cells: number): MotorClass => ({
  size,
  diameterMm: Number(size.slice(0, 2)),
  heightMm: Number(size.slice(2)),
  kv,
  poles,
  cells,
});

/** From 65 mm indoor craft to 10-inch carriers. */
export const motorClasses: readonly MotorClass[] = [
  motorClass('0802', [19_000, 26_000], 12, 1),
  motorClass('1002', [11_000, 22_000], 12, 1),
  motorClass('1103', [8_000, 12_000], 12, 2),
  motorClass('1404', [3_800, 4_800], 12, 4),
  motorClass('1606', [3_500, 4_300], 14, 4),
  motorClass('2004', [1_700, 3_000], 14, 4),
  motorClass('2207', [1_700, 2_600], 14, 6),
  motorClass('2306', [1_700, 2_600], 14, 6),
  motorClass('2806', [1_100, 1_700], 14, 6),
  motorClass('2808', [1_100, 1_700], 14, 6),
  motorClass('3110', [800, 1_100], 14, 6),
];

export interface DrawnMotor extends MotorConstants {
  readonly size: string;
  readonly cells: number;
}

const copperOhmM = 1.72e-8;
const density = {magnet: 7500, steel: 7800, aluminium: 2700, iron: 7650};

/** One motor of a class. */
export function drawMotor(of: MotorClass, random: Random): DrawnMotor {
  const between = (least: number, most: number) => least + (most - least) * random.next();
  const kv = between(...of.kv);
  const stator = {d: of.diameterMm * 1e-3, h: of.heightMm * 1e-3, slots: of.poles === 12 ? 9 : 12};
  return {
    size: of.size,
    cells: of.cells,
    kv,
    poles: of.poles,
    ...winding(stator, {kv, poles: of.poles}, between),
    inertia: bellInertia(stator, between),
    // Windage of a smooth bell: a small share of what the iron takes at top speed.
    drag: 1.5e-3 * between(0.5, 1.5) * stator.d ** 4 * (stator.h + 4e-3),
    friction: friction(stator, of.poles, between),
    cogging: between(0.3e3, 1.6e3) * Math.PI * stator.d * stator.h * (stator.d / 2),
  };
}

interface Stator {
  /** Bore and stack in m. */
  readonly d: number;
  readonly h: number;
  readonly slots: number;
}
type Between = (least: number, most: number) => number;

/** Turns that give the KV in the field of the magnets, and the copper that fits beside the teeth. */
function winding({d, h, slots}: Stator, {kv, poles}: {kv: number; poles: number}, between: Between) {
  const field = between(0.62, 0.78);
  const perTooth = field * 0.93 * ((Math.PI * d) / slots) * h * 0.95;
  // Torque constant of two phases in series under six-step drive: 2 · turns · coils · flux per radian.
  const perTurn = 2 * (slots / 3) * perTooth * (poles / 2) * 0.5 * 1.05;
  const turns = 60 / (2 * Math.PI * kv) / perTurn;
  const tooth = 0.38 * ((Math.PI * d) / slots) * between(0.9, 1.1);
  const bore = d * 0.5 * 0.42;
  const slotArea = (Math.PI * ((d / 2 - 0.0007) ** 2 - bore ** 2)) / slots - tooth * (d / 2 - bore - 0.0007);
  const copperArea = (slotArea * between(0.45, 0.625)) / 2 / Math.max(turns, 1);
  const lengthOfTurn = 2 * (h + tooth) + Math.PI * 0.5 * tooth + 0.002;
  const leads = between(0.8, 1.2) * 2 * 0.12 * copperOhmM * (1 / (0.35e-6 * (d / 0.022) ** 2));
  const resistanceOhm = 2 * (slots / 3) * turns * lengthOfTurn * (copperOhmM / copperArea) + leads;
  // Permeance of a tooth: over magnet and air gap, across the slot, and around the end turns.
  const tip = 0.88 * ((Math.PI * d) / slots);
  const permeance = 4e-7 * Math.PI * (h * (tip / (0.055 * d + 0.0004) + 1.6) + 0.8 * 2 * tip);
  const inductanceH = 2 * (slots / 3) * turns ** 2 * permeance * between(0.6, 0.9);
  return {resistanceOhm, inductanceH};
}

/** Ring of magnets, ring of steel, end plate with spokes, shaft left out: it is thin. */
function bellInertia({d, h}: Stator, between: Between): number {
  const ring = (inner: number, thick: number, long: number, rho: number) => {
    const outer = inner + thick;
    return (rho * Math.PI * long * (outer ** 4 - inner ** 4)) / 2;
  };
  const magnet = between(0.045, 0.065) * d + 0.0002;
  const steel = between(0.04, 0.055) * d;
  const inner = d / 2 + 0.0002;
  const long = h + 0.001;
  const plate = (density.aluminium * Math.PI * between(0.05, 0.09) * d * (inner + magnet + steel) ** 4) / 2;
  return (
    0.92 * ring(inner, magnet, long, density.magnet) + ring(inner + magnet, steel, long, density.steel) + 0.5 * plate
  );
}

/** Hysteresis and eddy currents of the laminations seen as one torque, and two ball bearings. */
function friction({d, h}: Stator, poles: number, between: Between): number {
  const ironKg = density.iron * 0.55 * ((Math.PI * d * d) / 4) * h;
  const hysteresis = between(0.015, 0.027) * (poles / 2) * 1.3 ** 2 * (ironKg / (2 * Math.PI));
  const bearings = between(0.6, 1.4) * 0.8e-4 * (d / 0.022) ** 3;
  return hysteresis + bearings;
}
