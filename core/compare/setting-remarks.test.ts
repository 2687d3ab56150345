/** What settings of a flight controller say together with the craft. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import type {SettingValues} from '../link/setting-shapes';
import {settingRemarks} from './setting-remarks';

const usual: SettingValues = {
  ...{
    'battery.meter': 'divider',
    'battery.warning_v': 3.5,
    'battery.lowest_v': 3.3,
    'battery.full_v': 4.2,
    'battery.cells': 0,
  },
  ...{'logging.to': 'flash', 'logging.rate_share': '1/2', 'logging.keeps': ['gyro', 'speeds']},
  'behaviour.at_zero_throttle': 'motors idle',
};
const receiver = {kind: 'serial', port: 1, roll: 1, pitch: 2, throttle: 3, yaw: 4, deadBandUs: 0} as const;
const switches = [{use: 'arm', channel: 5, fromUs: 1700, toUs: 2100}] as const;
const channels = {receiver, switches: [...switches]};
const told = (over: SettingValues = {}, loopHz = 8000) =>
  settingRemarks({craft: juniper, values: {...usual, ...over}, loopHz, channels}).map(
    ({tag, word, text}) => `${tag} ${word}: ${text}`,
  );
const {cells} = juniper.battery;

describe('settings with the craft', () => {
  it('that go together say what they come to', () => {
    expect(told()).toEqual([
      `ok battery: With ${cells} cells it warns at ${(3.5 * cells).toFixed(1)} V; the lowest is ${(3.3 * cells).toFixed(1)} V.`,
      'ok log: Flights are logged at 4000 Hz, which shows up to 2000 Hz.',
    ]);
    expect(settingRemarks({craft: juniper, values: {}, loopHz: 8000, channels})).toEqual([]);
  });

  it('of a battery: meter off, a late warning, another number of cells, told or counted', () => {
    expect(told({'battery.meter': 'off'})[0]).toContain('plan battery: The voltage meter is off');
    expect(told({'battery.warning_v': 3.3})[0]).toContain('diff battery: It warns at 3.3 V a cell, not above');
    // 4 × 3.5 = 14 V over six cells.
    expect(told({'battery.cells': 4})[0]).toContain(
      'set to 4 cells, and the pack of this craft has 6: it would warn at 14.0 V, 2.33 V a cell',
    );
    // A full pack of 25.2 V, rested 24.7 V, over 4.0 V: 6.17, seven cells.
    expect(told({'battery.full_v': 4})[0]).toContain('count 7 cells');
    expect(told({'battery.full_v': 4.35})[0]).toContain('ok battery');
  });

  it('of a log: off, without a gyro, without speeds, too slow for the motors', () => {
    expect(told({'logging.to': 'off'})[1]).toContain('plan log: Flights are not logged');
    expect(told({'logging.keeps': ['sticks']})[1]).toContain('diff log: The log keeps no gyro');
    expect(told({'logging.keeps': ['unfiltered gyro']})[1]).toContain('wait log: Flights are logged at 4000 Hz');
    expect(told({'logging.rate_share': '1/16'})[1]).toMatch(/^diff log: Flights are logged at 500 Hz.* fold back/);
    expect(settingRemarks({craft: juniper, values: usual, loopHz: undefined, channels})).toHaveLength(1);
  });

  it('of a log on the board: how long its memory lasts at least', () => {
    const asked = (over: SettingValues, logBytes?: number) =>
      settingRemarks({craft: juniper, values: {...usual, ...over}, loopHz: 8000, channels, logBytes})[1]!.text;
    // 3 of the gyro, 4 speeds, time and count: 9 values of 2 bytes, 4000 times a second: 16 MiB / 72,000 B/s = 233 s.
    expect(asked({}, 2 ** 24)).toContain('Its 16 MiB hold at least 3.9 minutes of that');
    expect(asked({'logging.to': 'card'}, 2 ** 24)).not.toContain('MiB');
    expect(asked({})).not.toContain('MiB');
  });

  it('at zero throttle: motors that rev up by themselves are no fault', () => {
    expect(told({'behaviour.at_zero_throttle': 'loop acts'})[2]).toContain('rev up by themselves');
    expect(told({'behaviour.at_zero_throttle': 'motors stop'})[2]).toContain('the motors are at rest');
  });

  it.each([
    [0, 'diff', 'none is named'],
    [3, 'diff', 'it is throttle'],
    [5, 'diff', 'it is arming'],
    [12, 'ok', 'comes on channel 12'],
  ])('of a signal that comes on channel %i: %s', (channel, tag, text) => {
    const said = told({'signal.from': 'channel', 'signal.channel': channel})[2]!;
    expect(said).toMatch(new RegExp(`^${tag} signal: .*${text}`));
    expect(told({'signal.from': 'receiver', 'signal.channel': channel})).toHaveLength(2);
  });

  it('of a name: none, another one, the same, or as much of it as there was room for', () => {
    const named = (held: string) => told({'craft.name': held}).slice(2);
    expect(named('')).toEqual([
      'wait name: It has no name on board, and Juniper here: overlay and logs show what is on board.',
    ]);
    expect(named('Sorrel')[0]).toContain('called “Sorrel” on board');
    expect(named('JUNIPER')).toEqual([]);
    expect(named('Juni')).toEqual([]);
  });
});
