/** What Parameters says of everything else that a flight controller holds. */
import {beforeAll, describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import type {Found} from '../../bench/found';
import {emptyQuestion, questionOf} from '../../testing/question-of';
import {readText} from '../../controller/text/read-text';
import {textFile, textSheet, withTakenLines, withTicked, type TextNow, type TextPart} from './controller-text';
import {snapshotOfFound, readSnapshot} from '../../snapshot/snapshot';
import {editsTo, heldSettingsSheet, withPlannedSettings, type SettingsSearch} from './held-settings';

const all: SettingsSearch = {text: '', only: undefined, opened: undefined, snapshots: []};
const textNow = (over: Partial<TextNow> = {}): TextNow => ({
  ...{files: [], snapshots: [], crafts: [], chosen: undefined, onlyDiffering: false, taken: []},
  ...over,
});
let found: Found;
beforeAll(async () => {
  const settings = {
    'gains.roll_p': 51,
    'craft.name': 'Juniper',
    'overlay.elements': [{what: 'signal', x: 3, y: 2, shown: true}],
  };
  found = await new Harness({setup: (b) => ({...b, controller: {...b.controller, settings}})}).survey();
});
const ask = (search: Partial<SettingsSearch> = {}, controller = found.controller) =>
  heldSettingsSheet(questionOf(juniper, {record: {found: {...found, controller}}}), {...all, ...search});
const keys = (sheet: ReturnType<typeof ask>) => sheet.sections.flatMap(({lines}) => lines.map(({key}) => key));

describe('what else a flight controller holds', () => {
  it('stands section by section, without the fields that the plan has', () => {
    const sheet = ask();
    expect(sheet.title).toBe('Everything else it holds, 143 settings by the account of Plumb 2.2');
    expect(keys(sheet)).toHaveLength(143);
    expect(keys(sheet)).not.toContain('motors.poles');
    expect(sheet.sections.slice(0, 2).map((s) => s.name)).toEqual(['Loop', 'Rates']);
    expect(sheet.sections[1]!.lines[0]).toEqual({
      ...{key: 'rates.roll_centre', name: 'roll centre', found: '200 deg/s', usual: '200 deg/s'},
      ...{plan: '–', verdict: 'not planned', differs: false, isUsual: true, opened: undefined},
    });
  });

  it('is narrowed to what is not default, and searched by key or word', () => {
    expect(ask().filters.map(({text}) => text)).toEqual(['Differs from plan, 0', 'Not default, 3']);
    const changed = ask({only: 'usual'});
    expect(keys(changed)).toEqual(['gains.roll_p', 'craft.name', 'overlay.elements']);
    expect(changed.sections.flatMap(({lines}) => lines.map(({found: now, usual}) => [now, usual]))).toEqual([
      ['51', '45'],
      ['"Juniper"', 'empty'],
      ['1 row', '12 rows'],
    ]);
    expect(keys(ask({text: 'gains roll'}))).toEqual([
      'gains.roll_p',
      'gains.roll_i',
      'gains.roll_d',
      'gains.roll_feed',
    ]);
    expect(keys(ask({text: 'SATELLITES'}))).toEqual(['position.least_satellites']);
    expect(ask({text: 'nothing of this'})).toMatchObject({sections: [], empty: expect.stringContaining('No setting')});
  });

  it('opens to its sentence, what it takes, what it was, what locks it, and its rows', () => {
    const opened = (key: string) =>
      ask({opened: key}).sections.flatMap(({lines}) => lines.flatMap((l) => l.opened ?? []))[0]!;
    expect(opened('battery.lowest_v')).toMatchObject({
      sentence: 'Voltage of a cell below which nobody should fly on.',
      facts: [
        {name: 'takes', text: 'a number from 2.5 to 5 in steps of 0.01, V'},
        {name: 'there since', text: '2.0'},
        {name: 'was', text: 'battery.min_v, before 2.2'},
      ],
      table: undefined,
    });
    expect(opened('behaviour.motor_limit_percent').facts.at(-1)).toEqual({
      ...{name: 'locked', text: 'locked while the craft is armed or motors turn'},
    });
    expect(opened('overlay.elements').table).toEqual({
      heads: ['what', 'x', 'y', 'shown'],
      rows: [['"signal"', '3', '2', 'on']],
    });
  });

  it('is planned by line and by section, and held against what was found', () => {
    const q = questionOf(juniper, {record: {found}});
    const section = ask({text: 'gains roll'}).sections[0]!;
    expect(section).toMatchObject({name: 'Gains', count: '4 lines'});
    const asFound = withPlannedSettings(juniper, q, editsTo(q, section.keys, 'found'));
    const planned = withPlannedSettings(asFound, q, editsTo(q, ['gains.roll_p'], 'default'));
    const lines = heldSettingsSheet(questionOf(planned, {record: {found}}), {...all, only: 'plan'});
    expect(lines.filters[0]).toEqual({only: 'plan', isOn: true, text: 'Differs from plan, 1'});
    expect(lines.sections.flatMap((s) => s.lines)).toMatchObject([
      {key: 'gains.roll_p', found: '51', plan: '45', verdict: 'differs'},
    ]);
    const none = withPlannedSettings(planned, q, editsTo(q, section.keys, 'nothing'));
    expect(none.plan).toEqual(juniper.plan);
  });

  it('says what settings come to with this craft, as planned', () => {
    const words = (craft = juniper) =>
      heldSettingsSheet(questionOf(craft, {record: {found}}), all).remarks.map(({tag, word}) => `${tag} ${word}`);
    expect(words()).toEqual(['ok battery', 'ok log']);
    const q = questionOf(juniper, {record: {found}});
    expect(words(withPlannedSettings(juniper, q, {'battery.cells': 4, 'logging.to': 'off'}))).toEqual([
      ...['diff battery', 'plan log'],
    ]);
  });

  it('offers the name of the craft where the flight controller has another, as far as it has room', () => {
    expect(ask().offers).toEqual([]);
    const craft = {...juniper, name: 'Juniper of the long orchard beside the brook'};
    const q = questionOf(craft, {record: {found}});
    const [offer] = heldSettingsSheet(q, all).offers;
    expect(offer!.edits).toEqual({'craft.name': 'Juniper of the long orch'});
    const planned = withPlannedSettings(craft, q, offer!.edits);
    expect(heldSettingsSheet(questionOf(planned, {record: {found}}), all).offers).toEqual([]);
  });

  it('names what is planned and this firmware cannot hold, by the key that it was planned by', () => {
    const entry = {...found.controller!.settings!.entries[0]!, key: 'lab.gone'};
    const craft = {...juniper, plan: {...juniper.plan, settings: {'lab.gone': {version: '2.1', entry, value: 200}}}};
    const q = questionOf(craft, {record: {found}});
    expect(heldSettingsSheet(q, all).refused).toEqual([
      {key: 'lab.gone', text: 'Planned as 200. This firmware has nothing in its place.'},
    ]);
    expect(withPlannedSettings(craft, q, {'lab.gone': undefined}).plan).toEqual(juniper.plan);
  });

  it('tells what the last update changed, by the newest snapshot of other firmware', async () => {
    const settings = {'battery.min_v': 33, 'rates.roll_centre': 24};
    const older = await new Harness({
      craft: demoCraft('bramble'),
      oldController: true,
      setup: (b) => ({...b, controller: {...b.controller, settings}}),
    }).survey();
    const about = {id: 's', craft: 'Juniper', name: 'before', at: '2026-05-01T10:00:00.000Z'};
    const kept = readSnapshot(JSON.stringify(snapshotOfFound(older, about)));
    if (!kept.ok) throw new Error(kept.problem.meaning);
    const now = {...about, id: 't', at: '2026-05-02T10:00:00.000Z'};
    const snapshots = [snapshotOfFound(found, now), kept.value];
    const told = (key: string) =>
      ask({opened: key, snapshots})
        .sections.flatMap(({lines}) => lines.flatMap((l) => l.opened?.facts ?? []))
        .find(({name}) => name === 'by the update')?.text;
    expect(told('battery.lowest_v')).toMatch(/^renamed from battery\.min_v, 33 in 2\.0/);
    expect(told('rates.roll_centre')).toBe('24 in 2.0. The same in other units.');
    expect(told('craft.name')).toBeUndefined();
    const changed = ask({only: 'update', snapshots});
    expect(keys(changed)).toContain('battery.lowest_v');
    expect(keys(changed)).not.toContain('craft.name');
    expect(changed.filters.at(-1)!.text).toBe(`Changed by the update, ${keys(changed).length}`);
    // Without a snapshot of other firmware there was no update that anybody knows of.
    expect(ask({snapshots: snapshots.slice(0, 1)}).filters.map(({only}) => only)).toEqual(['plan', 'usual']);
  });

  it('goes into the text that is saved, with what each line takes and means, and reads back', () => {
    const {content} = textFile(questionOf(juniper, {record: {found}}), 'found');
    expect(content).toContain('[gains]\nroll_p = 51');
    expect(content).toMatch(/roll_p = 51 {2}# a whole number from 0 to 250; Part of the roll loop/);
    const read = readText(content);
    expect(read.faults).toEqual([]);
    const {entries, values} = found.controller!.settings!;
    const line = new Map(read.lines.map((l) => [[l.section, l.key].filter(Boolean).join('.'), l.value]));
    // A list of tables in a section is TOML's own; every value is what is held, of the plan's fields too.
    for (const {key} of entries) expect([key, line.get(key)]).toEqual([key, values[key]]);
  });

  it('goes out in part: one section, or only what is not default, planned values over those found', () => {
    const planned = withPlannedSettings(juniper, questionOf(juniper, {record: {found}}), {'gains.pitch_p': 99});
    const q = questionOf(planned, {record: {found}});
    const lines = (of: 'found' | 'plan', part: TextPart) => {
      const {name, content} = textFile(q, of, part);
      const own = readText(content).lines.filter(({section}) => section !== 'controller');
      return {name, lines: own.map(({section, key, value}) => [section, key, value])};
    };
    const gains = lines('plan', {section: 'gains'});
    expect(gains.name).toBe('juniper-controller-plan-gains.toml');
    expect(new Set(gains.lines.map(([section]) => section))).toEqual(new Set(['gains']));
    expect(gains.lines).toContainEqual(['gains', 'pitch_p', 99]);
    expect(gains.lines).toContainEqual(['gains', 'roll_p', 51]);
    expect(lines('found', {section: 'gains'}).lines).toContainEqual(['gains', 'pitch_p', 47]);
    const set = lines('found', 'not default').lines;
    expect(set).toContainEqual(['gains', 'roll_p', 51]);
    expect(set.some(([section, key]) => section === 'gains' && key === 'pitch_p')).toBe(false);
    expect(set.length).toBeLessThan(lines('found', 'all').lines.length / 2);
    const parts = textSheet(q, textNow()).parts.map(({label}) => label);
    expect(parts).toEqual(expect.arrayContaining(['all lines', 'section gains', 'section motors', 'section overlay']));
  });

  describe('comes in from another text', () => {
    const q = () => questionOf(juniper, {record: {found}});
    const opened = (text: string, over: Partial<TextNow> = {}) =>
      textNow({files: [{id: 'f', label: 'pasted lines', text: readText(text)}], chosen: 'f', ...over});
    const rows = (now: TextNow) =>
      textSheet(q(), now).sections.flatMap((s) => s.rows.map((r) => ({...r, section: s.name})));

    it('line by line, each with its fate; nothing is planned but what is ticked', () => {
      const text = '[gains]\nroll_p = 60\npitch_p = 47\nroll_i = 9000\nnobody = 3\n[loop]\nfrequency_hz = 4000\n';
      const now = opened(text, {onlyDiffering: true});
      const own = rows(now).filter(({section}) => section === 'gains');
      expect(own.map(({key, other, canTake, meaning}) => [key, other, canTake, meaning.slice(0, 24)])).toEqual([
        ['roll_p', '60', true, 'Part of the roll loop th'],
        // What is held already is not told again.
        ['roll_i', '9000', false, '9000 is not a whole numb'],
        ['nobody', '3, unknown to this firmware', false, ''],
      ]);
      const taken = withTakenLines(juniper, q(), {...now, taken: ['gains.roll_p']});
      expect(Object.entries(taken.plan.settings!).map(([key, {value}]) => [key, value])).toEqual([
        ['gains.roll_p', 60],
      ]);
      expect(taken.plan.controller).toEqual(juniper.plan.controller);
      expect(withTakenLines(juniper, q(), now)).toEqual(juniper);
    });

    it('of older firmware in its places, units and words', () => {
      const text = '[controller]\nversion = "2.0"\n[battery]\nmin_v = 36\n[rates]\nroll_centre = 24\n';
      const now = opened(text);
      expect(rows(now).filter(({canTake, path}) => canTake && /battery|rates/.test(path))).toMatchObject([
        {path: 'rates.roll_centre', other: '240', meaning: expect.stringMatching(/^How quickly/)},
        {
          path: 'battery.lowest_v',
          other: '3.6',
          meaning: expect.stringMatching(/^renamed from battery\.min_v, 36 there\. /),
        },
      ]);
      const lines = textSheet(q(), now).carried!.lines;
      expect(lines.find(({path}) => path === 'battery.min_v → battery.lowest_v')).toMatchObject({fate: 'renamed'});
      expect(lines.some(({fate}) => fate === 'unknown')).toBe(false);
    });

    it('is copied from another craft, of other firmware too', async () => {
      const settings = {'video.power': 4, 'rates.roll_centre': 30};
      const other = await new Harness({
        craft: demoCraft('bramble'),
        oldController: true,
        setup: (b) => ({...b, controller: {...b.controller, settings}}),
      }).survey();
      const crafts = [{id: 'bramble', name: 'Bramble', found: other}];
      const now = textNow({crafts, chosen: 'bramble'});
      expect(textSheet(q(), now)).toMatchObject({other: 'Bramble, as it was found'});
      // Fields of the plan have their own rows, whatever 2.0 called them; what is told besides has no place in 2.2.
      const alone = rows(now).filter(({other: told}) => told.includes('unknown to this firmware'));
      expect(alone.map(({path}) => path).sort()).toEqual([
        'battery.sag_filter_hz',
        'gains.loop_kind',
        'telemetry.inverted',
      ]);
      const own = rows(now).filter(({path}) => path === 'rates.roll_centre' || path === 'video.power');
      expect(own.map(({path, other: told, canTake}) => [path, told, canTake])).toEqual([
        ['rates.roll_centre', '300', true],
        ['video.power', '4', true],
      ]);
      const taken = withTakenLines(juniper, q(), {...now, taken: ['rates.roll_centre']});
      expect(taken.plan.settings!['rates.roll_centre']).toMatchObject({version: '2.2', value: 300});
    });

    it('a section alone is put back from a snapshot, by the description that it keeps', async () => {
      const settings = {'video.power': 3, 'overlay.units': 'imperial', 'gains.roll_p': 9};
      const other = await new Harness({setup: (b) => ({...b, controller: {...b.controller, settings}})}).survey();
      const snapshot = snapshotOfFound(other, {
        id: 's',
        craft: 'Juniper',
        name: 'good',
        at: '2026-05-01T10:00:00.000Z',
      });
      const now = textNow({snapshots: [snapshot], chosen: 's'});
      const section = textSheet(q(), now).sections.find(({name}) => name === 'video')!;
      expect(section).toMatchObject({takeable: ['video.power'], takeText: 'all of video, 1 line'});
      const taken = withTakenLines(juniper, q(), {...now, taken: withTicked([], section.takeable)});
      expect(Object.keys(taken.plan.settings!)).toEqual(['video.power']);
    });
  });

  it('says why nothing stands there', () => {
    expect(heldSettingsSheet(emptyQuestion(juniper), all).empty).toContain('survey the bench');
    const silent = {...found.controller!, settings: undefined};
    expect(ask({}, silent).empty).toBe('Plumb 2.2 does not describe what else it holds.');
    expect(ask({}, {...silent, unread: 'settings'}).empty).toContain('without a hub');
  });
});
