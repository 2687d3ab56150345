/** What a finished roll-back left otherwise than it was found before the order that it undoes. */
import type {Found} from '@core/bench/found';
import {firmwareGround} from '@core/bench/grounds';
import {controllerDifferences} from '@core/controller/fields';
import type {WorkOrder} from '@core/order/work-order';

/** In words, one each; what the roll-back named beforehand is not among them. */
export function notAsBefore(before: Found, after: Found, {leftOut, stays = []}: WorkOrder): string[] {
  const escs = before.escs.flatMap((was) => {
    const is = after.escs.find((e) => e.boot.serial === was.boot.serial && e.output === was.output);
    if (!is || leftOut.some((l) => l.output === was.output)) return [];
    const isRestListed = stays.some((s) => s.code === 'module-rest' && s.place === `motor ${was.output + 1}`);
    const asListed = isRestListed ? {...was, pageCrcs: is.pageCrcs} : was;
    const isSame = Buffer.from(is.settingsPage).equals(Buffer.from(was.settingsPage));
    return firmwareGround(is) === firmwareGround(asListed) && isSame ? [] : [`motor ${was.output + 1}`];
  });
  const [was, is] = [before.controller, after.controller];
  if (!was || !is) return escs;
  if (was.identity.version !== is.identity.version)
    return stays.length ? escs : [...escs, 'firmware of the controller'];
  return [...escs, ...controllerDifferences(was.config, is.config).map((d) => d.field)];
}

/** What a roll-back is that puts no settings page back, and does not look. */
export const withoutPages = (back: WorkOrder): WorkOrder => ({
  ...back,
  steps: back.steps.filter((s) => s.kind !== 'restore-settings' && s.kind !== 'prove-pages'),
});
