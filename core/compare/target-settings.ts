/** What an ESC should hold when an order is done. */
import {plannedFor, type Craft} from '../craft/craft';
import {variantOf} from '../craft/motor-firmware';
import {carryOver} from '../settings/carry-over';
import {isLayoutRevision, type LayoutRevision, type ParameterKey} from '../settings/definitions';
import {defaultSettings, type Settings} from '../settings/page';
import type {FoundEsc} from '../bench/found';
import type {OrderEsc} from './esc-firmware';

/** Layout of the firmware an ESC will run: of the planned image where one is written, else of what it runs now. */
export function targetLayout(
  {esc, identity}: Pick<OrderEsc, 'esc' | 'identity'>,
  writes: boolean,
): LayoutRevision | undefined {
  const layout = (writes ? identity : undefined)?.layoutRevision ?? esc.identity?.layoutRevision;
  return layout !== undefined && isLayoutRevision(layout) ? layout : undefined;
}

/** What it held, carried over, with the plan on top. */
export function targetSettings(
  {plan, helicopter}: Pick<Craft, 'plan' | 'helicopter'>,
  esc: Pick<FoundEsc, 'output' | 'settings'>,
  layout: LayoutRevision,
): Settings {
  const variant = variantOf({helicopter}, esc.output);
  const base: Settings = esc.settings
    ? carryOver(esc.settings, layout, variant).values
    : defaultSettings(layout, variant);
  const values: Partial<Record<ParameterKey, number>> = {...base};
  for (const key of Object.keys(base) as ParameterKey[]) {
    const wanted = plannedFor(plan.parameters[key], esc.output);
    if (wanted !== undefined) values[key] = wanted;
  }
  return values;
}
