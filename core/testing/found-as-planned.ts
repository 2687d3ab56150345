import type {Found, FoundEsc} from '../bench/found';
import type {Craft} from '../craft/craft';
import {wholePlan} from '../craft/whole-plan';
import {defaultSettings} from '../settings/page';

/** A craft's bench as planned, in every field, with serials S0, S1, …; every ESC runs the planned version. */
export function foundAsPlanned(craft: Craft): Found {
  const escs = craft.arms.map((_, output) => escAsPlanned(craft, output));
  return {
    at: 1,
    adapter: 'test',
    road: 'controller',
    power: {volts: 24, amps: 0.3, cycles: 1},
    escs,
    silent: [],
    controller: {
      identity: {board: 'Slate F', chip: 'F7 class', clockMhz: 216, firmware: 'Plumb', version: '2.2', serial: 'F1'},
      config: {...wholePlan(craft).controller, gyroHz: 8000},
    },
  };
}

function escAsPlanned(craft: Craft, output: number): FoundEsc {
  const values = {...defaultSettings(8)};
  for (const [key, planned] of Object.entries(craft.plan.parameters)) {
    if (planned.kind === 'same') Object.assign(values, {[key]: planned.value});
    if (planned.kind === 'per motor') Object.assign(values, {[key]: planned.values[output]});
  }
  return {
    output,
    at: 1,
    boot: {chip: 'M32', serial: `S${output}`, bootRevision: 4, dialect: 'A', applicationValid: true},
    identity: {
      family: 'Meridian',
      version: '4.2',
      variant: 'multirotor',
      board: 'Gneiss 45',
      chip: 'M32',
      deadTimeNs: 45,
      layoutRevision: 8,
      features: ['replies'],
      bootRevision: 3,
      imageLength: 41984,
      bodyCrc32: 0,
    },
    module: undefined,
    claim: undefined,
    application: undefined,
    hardware: {board: 'Gneiss 45', chip: 'M32', deadTimeNs: 45},
    settingsPage: new Uint8Array(0),
    settings: {layout: 8, values},
    pageCrcs: [],
  };
}
