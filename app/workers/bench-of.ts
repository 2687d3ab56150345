import type {Craft} from '@core/craft/craft';
import {demoFleet} from '@demo/craft/fleet';
import {isBenchId, type BenchId} from './bench-control';

/** The simulated bench that stands for a craft: its own, or one with as many ESCs of the same board. */
export function benchOf(craft: Craft | undefined): BenchId | undefined {
  if (!craft) return undefined;
  if (isBenchId(craft.id)) return craft.id;
  if (craft.loose) return 'loose';
  const alike = demoFleet.find((d) => d.escBoard === craft.escBoard && d.arms.length === craft.arms.length);
  if (alike && isBenchId(alike.id)) return alike.id;
  return craft.escBoard === 'Gneiss 45' && craft.arms.length === 8 ? 'octo' : undefined;
}
