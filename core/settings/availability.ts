/** Why a parameter cannot be set in a firmware, and what would unlock it. */
import type {Variant} from './variant';
import {layoutRevisions, storageOf, type LayoutRevision, type ParameterDefinition} from './definitions';

/** Layout revisions of the 8-bit family; the others are of the 32-bit one. */
const eightBit: readonly LayoutRevision[] = [2, 3];
const isEightBit = (layout: LayoutRevision) => eightBit.includes(layout);

/** A sentence for the place of the editor; undefined when firmware of `layout` has the parameter. */
export function unavailableReason(
  definition: ParameterDefinition,
  layout: LayoutRevision,
  variant: Variant = 'multirotor',
): string | undefined {
  const {storage, key, variants} = definition;
  if (storageOf(definition, layout, variant)) return undefined;
  if (variants && !variants.includes(variant))
    return `Only in ${variants.join(' and ')} firmware${variant === 'multirotor' ? ', which cannot steer a multirotor' : ''}.`;
  if (key === 'pwm') return 'Built into the image in this family: choose the build on the Firmware station.';
  const newer = layoutRevisions.find((l) => l > layout && isEightBit(l) === isEightBit(layout) && storage[l]);
  return newer === undefined
    ? 'Not in this family of firmware.'
    : `Not in firmware with layout ${layout}: plan one with layout ${newer} on the Firmware station.`;
}
