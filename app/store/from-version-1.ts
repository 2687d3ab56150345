/** Brings what version 1 of the store kept to today's shapes. */
import type {Found, FoundEsc} from '@core/bench/found';
import type {ProvenTarget, SettingsTarget, Step, StepOf} from '@core/order/steps';
import type {WorkOrder} from '@core/order/work-order';

type Loose = Record<string, unknown>;

/** Version 1 knew one road, no modules and no claims; every ESC was read at the survey's moment. */
export function foundFromVersion1(old: unknown): Found {
  const found = old as Omit<Found, 'escs'> & {readonly escs: readonly FoundEsc[]};
  return {
    ...found,
    road: 'controller',
    escs: found.escs.map((esc) => ({
      ...esc,
      at: found.at,
      identity: esc.identity && {...esc.identity, bootRevision: 0},
      module: undefined,
      claim: undefined,
      application: undefined,
    })),
  };
}

/** Version 1 had one image for the whole order, and one layout for all its settings. */
export function orderFromVersion1(old: unknown): WorkOrder {
  const order = old as WorkOrder & {readonly imageSha256?: string};
  const {imageSha256, ...rest} = order;
  const outputs = order.found.escs.map((e) => e.output);
  const image = {
    name: `${order.plan.firmware.family} ${order.plan.firmware.version}`,
    sha256: imageSha256 ?? '',
  };
  const steps = order.steps.map((step): Step => {
    const loose = step as unknown as Loose;
    switch (step.kind) {
      case 'snapshot':
        return {...step, outputs};
      case 'write-firmware':
        return {...step, image, part: 'base', rewrite: false, clearsModule: false};
      case 'set-parameters': {
        const layout = loose['layout'] as SettingsTarget['layout'];
        return {...step, targets: step.targets.map((t) => ({...t, layout}))};
      }
      case 'prove-pages':
        return {
          ...step,
          targets: step.targets.map((t): ProvenTarget => ({
            ...t,
            images: [{part: 'base', sha256: image.sha256}],
          })),
        } satisfies StepOf<'prove-pages'>;
      case 'prove-settings':
        return {...step, outputs};
      default:
        return step;
    }
  });
  return {...rest, found: foundFromVersion1(order.found), cells: 1, leftOut: [], steps};
}
