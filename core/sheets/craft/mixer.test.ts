/** What is said of the mixer: four and eight motors, one that no axis turns, and what the flight controller holds. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {describeSettings} from '@simulator/hardware/controller/held-settings';
import {judgePlan} from '../../compare/rules/judge-plan';
import {heldNow} from '../../compare/rules/rule';
import {plannedMixer} from '../../craft/own-mixer';
import {wantedDirections, type Craft} from '../../craft/craft';
import {mixerOf, type MixerRow} from '../../craft/mixer';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {withPlannedSettings, type SettingEdits} from '../parameters/held-settings';
import {centredSticks, mixerFile, mixerOfText, mixerSheet} from './mixer';

/** Juniper with its controller holding these rows. */
function holding(rows: readonly MixerRow[]) {
  const {found} = questionOf(juniper).record;
  return questionOf(juniper, {record: {found: {...found!, controller: {...found!.controller!, mixer: rows}}}});
}
/** Signs of a quad X for outputs front right, rear right, rear left, front left: any text on multirotors. */
const quadX: readonly MixerRow[] = [
  {throttle: 1, roll: -1, pitch: 1, yaw: 1},
  {throttle: 1, roll: -1, pitch: -1, yaw: -1},
  {throttle: 1, roll: 1, pitch: -1, yaw: 1},
  {throttle: 1, roll: 1, pitch: 1, yaw: -1},
];
const signs = (cells: readonly string[]) => cells.map((cell) => Math.sign(parseFloat(cell.replace('−', '-'))));

describe('the mixer of a craft', () => {
  it('gives each arm of a quad X its signs', () => {
    const {lines} = mixerSheet(emptyQuestion(juniper), centredSticks);
    const wanted = lines.map(({turns}, m) => {
      const {throttle, roll, pitch} = quadX[m]!;
      // A propeller that turns clockwise turns the craft counter-clockwise.
      return [throttle, roll, pitch, turns === 'clockwise' ? -1 : 1];
    });
    expect(lines.map((l) => l.arm)).toEqual(['front right', 'rear right', 'rear left', 'front left']);
    expect(lines.map((l) => signs(l.cells))).toEqual(wanted);
  });
  it('has a line and a place for each of eight motors', () => {
    const sheet = mixerSheet(questionOf(withEightMotors(juniper)), centredSticks);
    expect([sheet.lines.length, sheet.placed.length, sheet.useless]).toEqual([8, 8, []]);
  });
  it('names an axis that the arms cannot turn', () => {
    const inLine: Craft = {...juniper, arms: juniper.arms.map((a, i) => ({...a, xMm: 0, yMm: [90, -90, -40, 40][i]!}))};
    expect(mixerSheet(emptyQuestion(inLine), centredSticks).useless).toContain('roll');
  });
  it('asks by the sticks: to the right the left motors rise, and it is told in words', () => {
    const {placed, spoken, axes} = mixerSheet(emptyQuestion(juniper), {...centredSticks, roll: 0.2});
    const [frontRight, , , frontLeft] = placed;
    expect(frontLeft!.throttle).toBeGreaterThan(frontRight!.throttle);
    expect([frontLeft!.x < 0, frontLeft!.y < 0]).toEqual([true, true]);
    expect(spoken).toBe('front right 30 %, rear right 30 %, rear left 70 %, front left 70 %');
    expect(axes.map((a) => [a.from, a.text])).toEqual([
      [0, '50 %'],
      [-1, '20 %'],
      [-1, '0 %'],
      [-1, '0 %'],
    ]);
  });
  it('as a file has a line for each arm', () => {
    const {name, text} = mixerFile(emptyQuestion(juniper));
    expect([name, text.trim().split('\n').length]).toEqual(['juniper-mixer.csv', 5]);
  });
});

describe('the mixer that a flight controller holds', () => {
  const held = (q: Parameters<typeof mixerSheet>[0]) => mixerSheet(q, centredSticks).held;
  const own = mixerSheet(questionOf(juniper), centredSticks).lines.map(({cells}): MixerRow => {
    const [throttle, roll, pitch, yaw] = cells.map((cell) => parseFloat(cell.replace('−', '-')));
    return {throttle: throttle!, roll: roll!, pitch: pitch!, yaw: yaw!};
  });
  it('is not known before a survey', () => expect(held(emptyQuestion(juniper)).state).toBe('not read'));
  it('agrees where its rows are those of the arms', () =>
    expect(held(holding(own))).toEqual({state: 'agrees', differences: []}));
  it('differs where roll is reversed on every output, in one sentence', () => {
    const reversed = own.map((row) => ({...row, roll: -row.roll}));
    expect(held(holding(reversed))).toEqual({state: 'differs', differences: ['Its roll is reversed on every output.']});
  });
});

/** Juniper with a controller that takes a mixer of its own, and holds these rows. */
function taking(rows: readonly MixerRow[], craft: Craft = juniper) {
  const {found} = questionOf(juniper).record;
  const settings = {entries: describeSettings('2.2'), values: {'mixer.rows': rows.map((row) => ({...row}))}};
  const identity = {...found!.controller!.identity, version: '2.2'};
  return questionOf(craft, {record: {found: {...found!, controller: {...found!.controller!, identity, settings}}}});
}
const planning = (craft: Craft, actions: readonly {readonly text: string; readonly edits: object}[], text: string) =>
  withPlannedSettings(craft, taking([]), actions.find((a) => a.text === text)!.edits as SettingEdits);
const refusals = (craft: Craft, rows: readonly MixerRow[]) =>
  judgePlan({
    ...{craft, escs: [], sightings: [], processor: undefined},
    held: heldNow(taking(rows, craft).record.found),
  }).filter((f) => f.id === 'own-mixer');

describe('a mixer of its own on the flight controller', () => {
  it('is not offered where its firmware takes none', () => {
    expect(mixerSheet(questionOf(juniper), centredSticks).own).toBeUndefined();
    expect(mixerOfText(questionOf(juniper), '')).toMatchObject({why: expect.stringContaining('takes no mixer')});
  });
  it('is planned in the order of the outputs, as shares that the firmware takes', () => {
    const {own} = mixerSheet(taking([]), centredSticks);
    expect(own!.lines.map((l) => l.text)).toEqual(['that of its airframe', 'as found']);
    const craft = planning(juniper, own!.actions, 'Plan this mixer');
    const rows = plannedMixer(craft.plan.settings)!;
    const {rows: computed} = mixerOf(juniper.arms, wantedDirections(juniper));
    for (const [output, row] of rows.entries())
      expect(row.roll).toBeCloseTo(computed[juniper.plan.controller.arms[output]!]!.roll, 3);
    const now = mixerSheet(taking([], craft), centredSticks).own!;
    expect(now.lines[1]!.text).toBe('the one computed here, 4 rows');
    expect(now.actions.map((a) => a.text)).toEqual(['Plan that of the airframe', 'Leave it as found']);
    expect(refusals(craft, [])).toEqual([]);
  });
  it('says which settings turn the direction round together', () => {
    expect(mixerSheet(taking([]), centredSticks).own!.directions).toContain('decides about yaw');
    expect(mixerSheet(taking(quadX), centredSticks).own!.directions).toContain('its yaw column decides');
  });
  it('is refused where it yaws against the planned direction, planned or found', () => {
    const craft = planning(juniper, mixerSheet(taking([]), centredSticks).own!.actions, 'Plan this mixer');
    const turned: Craft = {...craft, props: craft.props === 'in' ? 'out' : 'in'};
    expect(refusals(turned, []).map((f) => f.severity)).toEqual(['refuse']);
    const rows = plannedMixer(craft.plan.settings)!;
    const bare: Craft = {...juniper, props: turned.props};
    expect(refusals(bare, rows)).toHaveLength(1);
    const airframe = withPlannedSettings(bare, taking(rows), {'mixer.rows': []});
    expect(refusals(airframe, rows)).toEqual([]);
  });
  it('comes from a text, by the names of the arms', () => {
    const {text} = mixerFile(questionOf(juniper));
    const read = mixerOfText(taking([]), text);
    const computed = mixerSheet(taking([]), centredSticks).own!.actions[0]!.edits;
    expect(read).toEqual({edits: computed});
    expect(mixerOfText(taking([]), text.replace('rear left', 'tail'))).toMatchObject({
      why: expect.stringContaining('rear left'),
    });
    const large = text.replace(/1\.0000/, '2.0000');
    expect(mixerOfText(taking([]), large)).toMatchObject({why: expect.stringContaining('mixer.rows')});
  });
});
