/** Which images may be written to which flight controller, and the reason that decides. */
import {describe, expect, it} from 'vitest';
import {plumbImage, publishedControllerReleases} from '@simulator/firmware/plumb';
import {meridianImage} from '@simulator/firmware/meridian';
import {judgeControllerFit, type ControllerFitQuestion} from './fit';

const releaseOf = (version: string, board: string) =>
  publishedControllerReleases().find(({release}) => release.version === version && release.board === board)!.release;
const receiver = {kind: 'serial', port: 1, roll: 1, pitch: 2, throttle: 3, yaw: 4, deadBandUs: 0} as const;

function fit(over: Partial<ControllerFitQuestion> = {}) {
  return judgeControllerFit({
    board: {board: 'Slate F', chip: 'F7 class'},
    image: plumbImage('2.2', 'Slate F'),
    release: releaseOf('2.2', 'Slate F'),
    receiver,
    escsNeed: 'Plumb 2.2',
    current: {firmware: 'Plumb', version: '2.0'},
    ...over,
  });
}
const deciding = (over: Partial<ControllerFitQuestion>) =>
  fit(over).reasons.find((r) => r.verdict !== 'holds') ?? {check: 'none', verdict: 'holds', text: ''};

describe('an image for a flight controller', () => {
  it('fits its own board, signed and steady, each reason told', () => {
    const {verdict, reasons} = fit();
    expect(verdict).toBe('fits');
    expect(reasons.map((r) => r.check)).toEqual(['flash', 'board', 'variant', 'receiver', 'escs', 'standing']);
  });

  it.each([
    ['another board', {image: plumbImage('2.2', 'Slate C')}, 'flash'],
    ['an image of an ESC', {image: meridianImage('4.2', {board: 'Gneiss 45', deadTimeNs: 45})}, 'flash'],
    ['an image without an identity', {image: {segments: [{start: 0x4000, bytes: new Uint8Array(2048)}]}}, 'identity'],
    [
      'one that reaches into settings',
      {image: {segments: [{start: 0x4000, bytes: new Uint8Array(240 * 1024)}]}},
      'flash',
    ],
    ['one that was withdrawn', {release: releaseOf('2.1', 'Slate F'), image: plumbImage('2.1', 'Slate F')}, 'standing'],
    [
      'a build without the receiver',
      {release: releaseOf('2.2', 'Chalk 5'), receiver: {...receiver, kind: 'pulse train'} as const},
      'receiver',
    ],
    ['a chip nobody knows', {board: {board: 'Slate F', chip: 'X9'}}, 'chip'],
  ] as [string, Partial<ControllerFitQuestion>, string][])('%s is refused', (what, over, check) => {
    const refused = fit(over).reasons.filter((r) => r.verdict === 'refused');
    expect(fit(over).verdict).toBe('refused');
    // Another board of the same flash differs in its target alone.
    expect(refused.map((r) => r.check)).toContain(what === 'another board' ? 'board' : check);
  });

  it.each([
    ['a trial', {release: releaseOf('2.3-b1', 'Slate F'), image: plumbImage('2.3-b1', 'Slate F')}, 'standing'],
    ['a file of one’s own', {release: undefined}, 'standing'],
    ['a board that somebody named', {claimedBy: 'bench hand'}, 'board'],
    [
      'firmware that hears no replies',
      {image: plumbImage('2.0', 'Slate F'), release: releaseOf('2.0', 'Slate F')},
      'escs',
    ],
  ] as [string, Partial<ControllerFitQuestion>, string][])('%s asks for care', (_, over, check) => {
    expect(fit(over).verdict).toBe('fits with care');
    expect(deciding(over)).toMatchObject({check, verdict: 'care'});
  });
});
