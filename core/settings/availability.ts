/** Why a parameter cannot be set in a firmware, and what would unlock it. */
import {layoutRevisions, storageOf, type LayoutRevision, type ParameterDefinition} from './definitions';

/** Layout revisions of the 8-bit family; the others are of the 32-bit one. */
const eightBit: readonly LayoutRevision[] = [2, 3];
const isEightBit = (layout: LayoutRevision) => eightBit.includes(layout);

/** A sentence for the place of the editor; undefined when firmware of `layout` has the parameter. */
export function unavailableReason(definition: ParameterDefinition, layout: LayoutRevision): string | undefined {
  const {storage, key, variants} = definition;
  if (storageOf(definition, layout)) return undefined;
  if (variants) return `Only in ${variants.join(' and ')} firmware, which cannot steer a multirotor.`;
  if (key === 'pwm') return 'Built into the image in this family: choose the build on the Firmware station.';
  const newer = layoutRevisions.find((l) => l > layout && isEightBit(l) === isEightBit(layout) && storage[l]);
  return newer === undefined
    ? 'Not in this family of firmware.'
    : `Not in firmware with layout ${layout}: plan one with layout ${newer} on the Firmware station.`;
}
