/** The bench menu: roads that are there and that are not, how quick the one in use is, help by what the port shows. */
import {describe, expect, it} from 'vitest';
import {connectionSheet, type ConnectionNow} from './connection';

const sheet = (over: Partial<ConnectionNow> = {}) =>
  connectionSheet({
    ...{chosen: 'simulated', isConnected: false, isStandIn: false, hasSerial: true, roundTripsMs: [], helped: ''},
    ...{evidence: undefined, lists: [], ...over},
  });
const shown = (code: string, bytes = 0, frames = 0) =>
  sheet({chosen: 'serial', evidence: {code, bytes, frames}}).help?.shows;

describe('the connection', () => {
  it('says of each road what it is, and of one that is not there why', () => {
    expect(sheet().roads.map((r) => [r.kind, r.isChosen, r.closed])).toEqual([
      ['simulated', true, ''],
      ['serial', false, ''],
      ['bridge', false, ''],
    ]);
    expect(sheet({hasSerial: false}).roads[1]!.closed).toContain('Chromium');
  });
  it('calls hardware real, and a stand-in simulated whatever road leads to it', () => {
    const title = (isStandIn: boolean) => sheet({chosen: 'bridge', isConnected: true, isStandIn}).title;
    expect(title(true)).toBe('Connected by the bridge on this computer, simulated');
    expect(title(false)).toContain('Motors are real');
    expect(title(false)).not.toContain('simulated');
  });
  it('tells the middle and the slowest of a hundred round trips, once there are enough', () => {
    expect(sheet({roundTripsMs: [3, 4]}).roundTrip).toBe('');
    const trips = Array.from({length: 200}, (_, i) => (i < 197 ? 4 : 30));
    expect(sheet({roundTripsMs: trips}).roundTrip).toBe(
      'Round trip 4.0 ms, 99 of 100 within 30 ms, over 200 requests.',
    );
  });
  it('helps by what the port shows', () => {
    expect(shown('no-port-chosen')).toBe('no port');
    expect(shown('port-held')).toBe('held');
    expect(shown('unanswered')).toBe('silent');
    expect(shown('unanswered', 812)).toBe('something else');
    expect(shown('link-version', 40, 1)).toBe('another version');
    expect(shown('cable-out', 4000, 90)).toBe('went away');
    expect(shown('wrong-code')).toBeUndefined();
    expect(sheet({isConnected: true, evidence: {code: 'unanswered', bytes: 0, frames: 0}}).help).toBeUndefined();
  });
  it('tells the board from two lists of ports, and helps where none came', () => {
    const modem = {path: '/dev/ttyS0'};
    const board = {path: '/dev/ttyACM0', vendor: '0483', product: '5740'};
    const told = (...lists: ConnectionNow['lists']) => sheet({chosen: 'bridge', lists});
    expect(told().plugged).toBe('');
    expect(told([modem]).plugged).toContain('list again');
    expect(told([], [modem], [modem, board]).plugged).toBe('New since the list before: /dev/ttyACM0, 0483:5740.');
    expect(told([modem, board], [modem]).plugged).toBe('No longer there: /dev/ttyACM0, 0483:5740.');
    expect(told([board], [{...board, product: 'df11'}]).plugged).toContain(
      'is /dev/ttyACM0, 0483:df11. A board in its loader',
    );
    const none = told([modem], [modem]);
    expect(none.plugged).toBe('No port came or went since the list before.');
    expect(none.help?.shows).toBe('no port');
    expect(sheet({chosen: 'serial', lists: [[modem], [modem]]}).help).toBeUndefined();
  });
  it('remembers what helped', () => {
    expect(sheet({helped: 'another cable'}).helped).toBe('With this craft it helped before: another cable.');
  });
});
