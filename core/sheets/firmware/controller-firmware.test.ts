/** The flight controller's own firmware: what is offered, what is chosen, what becomes of its configuration. */
import {describe, expect, it} from 'vitest';
import {bramble} from '@demo/craft/bramble';
import {Harness} from '@simulator/testing/bench-harness';
import {emptyQuestion, questionOf} from '../../testing/question-of';
import {controllerFirmwareSheet, type NamedImage} from './controller-firmware';

const read = await new Harness({craft: bramble}).survey();
const planned = bramble.plan.controllerFirmware!;
/** Its firmware of before, which passes nothing through to the ESCs. */
const found = {
  ...read,
  escs: [],
  silent: [{output: 0, problem: {code: 'no-pass-through', place: 'esc.enter', meaning: 'No way.', remedy: 'Update.'}}],
  controller: {...read.controller!, identity: {...read.controller!.identity, version: '2.0'}},
};
const named = (version: string): NamedImage => ({
  ...{family: planned.family, version},
  image: {sha256: `sum of ${version}`, name: `${version}.bin`, image: {segments: []}, release: undefined},
});
const sheet = (images: readonly NamedImage[] = []) =>
  controllerFirmwareSheet(questionOf(bramble, {record: {found}}), () => images);

describe('firmware of the flight controller', () => {
  it('of a craft that nobody has connected says nothing', () =>
    expect(controllerFirmwareSheet(emptyQuestion(bramble), () => [named('1')])).toMatchObject({
      ...{board: undefined, runs: undefined, isBehind: false, isBlocked: false, offered: [], refused: [], fates: []},
    }));

  it('says what runs, that it blocks the ESCs, and what becomes of the configuration', () => {
    const {board, runs, isBehind, isBlocked, fates} = sheet();
    expect(board!.board).toBe(found.controller.identity.board);
    expect(runs!.name).toBe(`${found.controller.identity.firmware} ${found.controller.identity.version}`);
    expect([isBehind, isBlocked]).toEqual([true, true]);
    expect(fates.length).toBeGreaterThan(0);
    expect(fates.map((f) => f.fate)).not.toContain('kept');
  });

  it('an image that cannot be judged is refused with the reason, and is no offer', () => {
    const {offered, refused} = sheet([named('9.9')]);
    expect(offered).toEqual([]);
    expect(refused).toEqual([{id: 'sum of 9.9', name: '9.9, own file', sign: 'refused', why: expect.any(String)}]);
  });

  it('knows the planned file by its sum, not by its name alone', () => {
    expect(sheet([named(planned.version)]).chosen).toBeUndefined();
  });
});
