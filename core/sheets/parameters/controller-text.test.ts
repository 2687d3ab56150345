/** The controller's text on screen: sections beside the plan, lines of another text ticked and planned, files. */
import {describe, expect, it} from 'vitest';
import {parse} from 'smol-toml';
import {readText} from '../../controller/text/read-text';
import type {FieldLock} from '../../link/operations';
import {snapshotOfFound} from '../../snapshot/snapshot';
import {foundAsPlanned} from '../../testing/found-as-planned';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {foundWith} from '../../testing/with-config';
import {juniper} from '@demo/craft/juniper';
import {textFile, textSheet, withTakenLines, withTicked, type TextNow} from './controller-text';

const now = (over: Partial<TextNow> = {}): TextNow => ({
  ...{files: [], snapshots: [], crafts: [], chosen: undefined, onlyDiffering: false, taken: []},
  ...over,
});
const opened = (text: string): Partial<TextNow> => ({
  files: [{id: 'f', label: 'old-craft.toml', text: readText(text)}],
  chosen: 'f',
});
const q = questionOf(juniper);

describe('the text of the flight controller', () => {
  it('shows every line by section; a craft that nobody has read has its plan', () => {
    const sheet = textSheet(q, now());
    expect(sheet.sections.map((s) => s.name)).toEqual(expect.arrayContaining(['motors', 'loop', 'low_passes']));
    expect(sheet.sections.flatMap((s) => s.rows).some((r) => r.differs)).toBe(false);
    expect(sheet).toMatchObject({
      other: undefined,
      isFound: true,
      choices: [{label: 'what was found', value: 'found'}],
    });
    expect(textSheet(q, now({onlyDiffering: true}))).toMatchObject({sections: [], empty: 'Nothing differs.'});
    const empty = textSheet(emptyQuestion(juniper), now());
    expect(empty).toMatchObject({isFound: false, choices: [], empty: expect.stringContaining('survey the bench')});
    expect(empty.sections.flatMap((s) => s.rows).find((r) => r.key === 'poles')).toMatchObject({
      found: '–',
      plan: '14',
    });
    const eight = textSheet(questionOf(withEightMotors(juniper)), now());
    expect(eight.sections[0]!.rows.find((r) => r.key === 'arms')!.plan).toMatch(/8/);
  });

  it('marks what differs from the plan, and says what locks it', () => {
    const found = foundWith(juniper, {idlePercent: 9});
    const locks: FieldLock[] = [{fields: ['idlePercent'], while: 'connected', held: true}];
    const locked = {...found, controller: {...found.controller!, locks}};
    const rows = textSheet(questionOf(juniper, {record: {found: locked}}), now({onlyDiffering: true})).sections;
    expect(rows.flatMap((s) => s.rows)).toEqual([
      expect.objectContaining({
        ...{key: 'idle_percent', found: '9', differs: true},
        locked: 'locked while a transmitter is connected; the work order waits until it is off',
      }),
    ]);
  });

  it('an older text is carried over with an account; what it does not say is not offered as its word', () => {
    const old = '[controller]\nversion = "2.0"\n[motors]\npoles = 61\n[filters]\ngyro_hz = 30\n[buzz]\nvolume = 3\n';
    const sheet = textSheet(q, now(opened(old)));
    expect(sheet.other).toBe('old-craft.toml');
    expect(sheet.faults).toEqual([
      {place: 'Line 4, motors.poles', text: expect.stringContaining('61 is not a whole number from 2 to 60.')},
    ]);
    expect(sheet.carried!.title).toMatch(/^Carried over from 2\.0 to 2\.2: \d+ of \d+ lines changed place or value$/);
    expect(sheet.carried!.lines).toContainEqual(
      expect.objectContaining({path: 'filters.gyro_hz → low_passes.gyro_hz', fate: 'out of range'}),
    );
    const row = (key: string) => sheet.sections.flatMap((s) => s.rows).find((r) => r.key === key)!;
    expect([row('replies').canTake, row('gyro_hz').canTake]).toEqual([false, true]);
    expect(row('volume')).toMatchObject({other: '3, unknown to this firmware', canTake: false});
  });

  it('ticked lines go into the plan and nothing else does; what was found and snapshots serve as well', () => {
    const other = opened(
      '[controller]\nversion = "2.2"\n[motors]\nprops = "in"\nidle_percent = 7\n[mounting]\nyaw = 90\n',
    );
    const {sections} = textSheet(q, now(other));
    expect(sections.map((s) => s.takeText)).toContain('all of mounting, 1 line');
    const taken = ['motors.idle_percent', 'mounting.yaw', 'motors.props'];
    expect(textSheet(q, now({...other, taken})).planText).toBe('Plan 3 lines');
    const after = withTakenLines(juniper, q, now({...other, taken}));
    expect(after).toMatchObject({props: 'in', plan: {controller: {idlePercent: 7, mounting: {yaw: 90}}}});
    expect(withTakenLines(juniper, q, now(other))).toEqual(juniper);
    const about = {id: 's', craft: 'Juniper', name: 'before', at: '2026-11-01T10:00:00Z'};
    const snapshots = [snapshotOfFound(foundWith(juniper, {idlePercent: 3}), about)];
    const held = textSheet(q, now({snapshots, chosen: 's', onlyDiffering: true}));
    expect(held.other).toMatch(/^snapshot before, 1 Nov 2026/);
    expect(held.sections.flatMap((s) => s.rows.map((r) => [r.key, r.other]))).toEqual([['idle_percent', '3']]);
    expect(textSheet(q, now({chosen: 'found'})).other).toBe('what was found');
    expect(textSheet(q, now({chosen: 'gone'})).other).toBeUndefined();
  });

  it('ticks a section, and takes the ticks away where all of it was ticked', () => {
    expect(withTicked(['a'], ['a', 'b'])).toEqual(['a', 'b']);
    expect(withTicked(['a', 'b', 'c'], ['a', 'b'])).toEqual(['c']);
  });

  it('is saved as found and as planned; a version that nobody knows keeps its name', () => {
    const found = textFile(q, 'found');
    expect(found.name).toBe('juniper-controller-found.toml');
    expect(parse(found.content)).toMatchObject({controller: {firmware: 'Plumb', gyro_hz: 8000}, motors: {poles: 14}});
    expect(textFile(emptyQuestion(juniper), 'plan').content).not.toContain('gyro_hz =  ');
    const {controller, ...rest} = foundAsPlanned(juniper);
    const identity = {...controller!.identity, version: '9.9'};
    const odd = questionOf(juniper, {record: {found: {...rest, controller: {...controller!, identity}}}});
    expect(parse(textFile(odd, 'found').content)).toMatchObject({controller: {version: '9.9'}});
  });
});
