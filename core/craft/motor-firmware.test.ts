/** Firmware of one motor on purpose, and helicopters: planned, ordered, compared, never called odd. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {Harness, shelf} from '@simulator/testing/bench-harness';
import {meridianImage} from '@simulator/firmware/meridian';
import {oddFirmware} from '../compare/odd-firmware';
import {findDifferences} from '../compare/difference';
import {surveyFindings} from '../compare/survey-findings';
import {fitOf} from '../compare/esc-firmware';
import {adoptAll} from '../compare/adopt';
import {defaultSettings} from '../settings/page';
import {definitionOf} from '../settings/definitions';
import {unavailableReason} from '../settings/availability';
import {targetSettings} from '../compare/target-settings';
import {twoSides} from '../spin/sighting/two-sides';
import {changeArms} from './change-arms';
import {airframe} from './airframes';
import {craftSchema, steersByMotors, wantedDirections, type Craft} from './craft';
import {plannedFirmware, variantOf, wantedFirmware, withOwnFirmware} from './motor-firmware';

const older = {family: 'Meridian', version: '4.1'};
const withOlder: Craft = {...juniper, plan: withOwnFirmware(juniper.plan, 2, older)};

describe('firmware of one motor on purpose', () => {
  it('is planned for that motor alone, and goes with it', () => {
    expect(withOlder.plan.ownFirmware).toEqual([{motor: 2, firmware: older}]);
    expect([0, 1, 2, 3].map((m) => plannedFirmware(withOlder.plan, m).version)).toEqual(['4.2', '4.2', '4.1', '4.2']);
    expect(withOwnFirmware(withOlder.plan, 2, undefined)).toEqual(juniper.plan);
    expect(craftSchema.parse(withOlder)).toEqual(withOlder);
    expect(changeArms(withOlder, airframe('two motors, side by side', 200)).plan.ownFirmware).toBeUndefined();
    expect(changeArms(withOlder, airframe('hex X', 200)).plan.ownFirmware).toHaveLength(1);
  });

  it('is written by the order, found as planned after it, and not called odd', async () => {
    const h = new Harness({craft: withOlder});
    await h.carryOut(await h.order({leaveSteps: ['prove-replies']}));
    const found = await h.survey();
    expect(found.escs.map((e) => e.identity?.version)).toEqual(['4.2', '4.2', '4.1', '4.2']);
    expect(findDifferences(withOlder.plan, found).firmware).toEqual([]);
    expect(oddFirmware(withOlder.plan, found.escs)).toEqual([]);
    expect(oddFirmware(juniper.plan, found.escs).map((e) => e.output)).toEqual([2]);
    expect(surveyFindings(juniper, found).map((f) => f.text)).toContain('motor 3 not at Meridian 4.2 yet.');
    // What is found becomes the plan: its own firmware stays its own.
    expect(adoptAll(withOlder, found).plan.ownFirmware).toEqual(withOlder.plan.ownFirmware);
    expect(
      adoptAll({...withOlder, plan: withOwnFirmware(juniper.plan, 1, older)}, found).plan.ownFirmware,
    ).toBeUndefined();
  });
});

describe('a helicopter', () => {
  const heli: Craft = {...changeArms(juniper, airframe('main and tail rotor', 400)), helicopter: true};

  it('has its main rotor first and its tail rotor second', () => {
    expect([variantOf(heli, 0), variantOf(heli, 1), variantOf(juniper, 0)]).toEqual([
      ...['heli-main', 'heli-tail'],
      'multirotor',
    ]);
    expect(wantedFirmware(heli, 1)).toEqual({...juniper.plan.firmware, variant: 'heli-tail'});
    expect(changeArms(heli, airframe('quad X', 200)).helicopter).toBeUndefined();
  });

  it('takes the variant of each rotor, and refuses the others with the reason', async () => {
    const found = await new Harness().survey();
    const [esc, second] = found.escs;
    const verdict = (craft: Craft, on: typeof esc, variant: 'heli-main' | 'heli-tail' | 'multirotor') => {
      const image = meridianImage('4.2', {board: 'Gneiss 45', deadTimeNs: 45, variant});
      const planned = {name: variant, sha256: variant, image, standing: 'steady' as const};
      return fitOf({craft, found, esc: on!, planned, part: 'base'}).reasons.find((r) => r.check === 'variant');
    };
    expect(verdict(heli, esc, 'heli-main')).toMatchObject({
      verdict: 'holds',
      text: 'Made for the main rotor of a helicopter.',
    });
    expect(verdict(heli, second, 'heli-tail')?.verdict).toBe('holds');
    expect(verdict(heli, second, 'heli-main')).toMatchObject({
      verdict: 'refused',
      text: expect.stringContaining('tail rotor'),
    });
    expect(verdict(heli, esc, 'multirotor')?.verdict).toBe('refused');
    expect(verdict(juniper, esc, 'heli-main')?.verdict).toBe('refused');
    expect(shelf.imageFor(heli)({output: 1, hardware: esc!.hardware!}, 'base')?.image).toEqual(
      meridianImage('4.2', {board: 'Gneiss 45', deadTimeNs: 45, variant: 'heli-tail'}),
    );
  });

  it('has a governor on its main rotor alone', async () => {
    const [esc] = (await new Harness().survey()).escs;
    const gain = definitionOf('governorP');
    expect(unavailableReason(gain, 8, 'heli-main')).toBeUndefined();
    expect(unavailableReason(gain, 8, 'heli-tail')).toContain('Only in heli-main');
    const planned: Craft = {...heli, plan: {...heli.plan, parameters: {governorP: {kind: 'same', value: 22}}}};
    expect(targetSettings(planned, {...esc!, output: 0}, 8).governorP).toBe(22);
    expect(targetSettings(planned, {...esc!, output: 1}, 8).governorP).toBeUndefined();
    expect(defaultSettings(8).governorP).toBeUndefined();
  });

  it('is steered by servos: its motors turn as was said, and no mixer can turn it over', () => {
    expect([steersByMotors(juniper), steersByMotors(heli)]).toEqual([true, false]);
    const arms = heli.arms.map((arm, i) => ({...arm, turns: i ? ('clockwise' as const) : undefined}));
    expect(wantedDirections({...heli, arms})[1]).toBe('clockwise');
    const sides = twoSides({craft: heli, found: undefined, replaced: {}}, []);
    expect(sides).toMatchObject({kind: 'not seen', text: '2 motors have not been seen turning yet.'});
  });
});
