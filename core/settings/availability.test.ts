import {describe, expect, it} from 'vitest';
import {unavailableReason} from './availability';
import {definitionOf, layoutRevisions, parameterDefinitions, storageOf} from './definitions';

describe('a parameter that a firmware does not have', () => {
  it.each([
    ['melody', 6, 'Not in firmware with layout 6: plan one with layout 8 on the Firmware station.'],
    ['melody', 3, 'Not in this family of firmware.'],
    ['governorP', 8, 'Only in heli-main firmware, which cannot steer a multirotor.'],
    ['startLow', 2, 'Not in firmware with layout 2: plan one with layout 3 on the Firmware station.'],
    ['pwm', 3, 'Built into the image in this family: choose the build on the Firmware station.'],
  ] as const)('%s in layout %i', (key, layout, reason) =>
    expect(unavailableReason(definitionOf(key), layout)).toBe(reason),
  );

  it('is silent exactly where the parameter is stored', () => {
    for (const definition of parameterDefinitions)
      for (const layout of layoutRevisions)
        expect(unavailableReason(definition, layout) === undefined).toBe(storageOf(definition, layout) !== undefined);
  });
});
