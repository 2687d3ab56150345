/** The controller text: read, written, compared, carried over; TOML by a library, its round trips drawn by fast-check. */
import fc from 'fast-check';
import {parse, stringify, TomlDate, type TomlTable, type TomlValue} from 'smol-toml';
import {describe, expect, it} from 'vitest';
import {juniperController} from '@simulator/benches/juniper';
import {configFromWire} from '../wire';
import {asRunning, controllerPlanSchema, type ControllerConfig} from '../plan';
import {carryText} from './carry-text';
import {compareTexts, sectionsOf} from './compare-texts';
import {entries, textVersions} from './entries';
import {fieldsIn, valueOf} from './field-values';
import {keyLines} from './lines';
import {pathOf, readText} from './read-text';
import {planFrom, textRows} from './rows';
import {writeLines, writeText} from './write-text';

const config: ControllerConfig = {
  ...configFromWire(juniperController),
  mounting: {roll: 0, pitch: 0, yaw: -90},
  accelerometer: true,
  receiver: {kind: 'serial', port: 2, roll: 1, pitch: 2, throttle: 3, yaw: 4, deadBandUs: 4},
  switches: [
    {use: 'arm', channel: 5, fromUs: 1700, toUs: 2100},
    {use: 'tone', channel: 6, fromUs: 1700, toUs: 2100},
  ],
  failSafe: {action: 'drop', afterMs: 800},
};
const of = {firmware: 'Plumb', version: '2.2', board: 'Slate F', chip: 'F7 class'};
const text = writeText(config, of, '2.2');

describe('a configuration as text', () => {
  it('reads back as the same configuration, without a fault', () => {
    const read = readText(text);
    expect(read.faults).toEqual([]);
    expect([read.firmware, read.version]).toEqual(['Plumb', '2.2']);
    expect(read.lines.every((l) => l.known)).toBe(true);
    const {fields} = fieldsIn(read.lines, '2.2', {});
    expect({...fields, gyroHz: config.gyroHz}).toEqual(config);
  });

  it('reads back with no switches at all: an empty list belongs to no other section', () => {
    const bare = {...config, switches: []};
    for (const version of textVersions) {
      const read = readText(writeText(bare, {...of, version}, version));
      expect(read.lines.filter((l) => !l.known)).toEqual([]);
      expect(fieldsIn(read.lines, version, {}).fields.switches).toEqual([]);
    }
  });

  it('has sections, units and comments', () => {
    expect(sectionsOf(readText(text)).map((s) => s.name)).toEqual([
      ...['controller', 'motors', 'loop', 'motor_notches', 'moving_notches', 'low_passes', 'mounting', 'receiver'],
      ...['switches', 'fail_safe'],
    ]);
    expect(text).toContain('idle_percent = 4  # a number from 0 to 15, %; least throttle while armed');
    expect(text).toContain('[[switches]]\nuse = "arm"');
  });

  it('in the words of 2.0 says the same, as far as 2.0 has it', () => {
    const old = readText(writeText(config, {...of, version: '2.0'}, '2.0'));
    expect(old.faults).toEqual([]);
    const {fields} = fieldsIn(old.lines, '2.0', {});
    expect(fields).toMatchObject({idlePercent: 4, arms: [0, 1, 2, 3], movingQ: 3, mounting: {yaw: -90}});
    expect(fields).not.toHaveProperty('replies');
  });

  it('every field has its place, and what a place takes the field takes', () => {
    const named = new Set(entries.map((e) => e.field.split('.')[0]));
    expect([...named].sort()).toEqual(Object.keys(controllerPlanSchema.shape).sort());
    for (const entry of entries) {
      expect(entry.places['2.2'], entry.field).toBeDefined();
      for (const place of Object.values(entry.places)) {
        const line = place.toLine ? place.toLine(entry.usual) : entry.usual;
        expect(place.kind.takes(line), `${entry.field} ${JSON.stringify(line)}`).toBe(true);
      }
    }
    expect(valueOf(config, 'mounting.yaw')).toBe(-90);
    expect(valueOf({}, 'mounting.yaw')).toBeUndefined();
  });

  it('a part of a field that a text leaves out stays as it was', () => {
    const {lines} = readText('[mounting]\nyaw = 90\n[receiver]\nroll = 2\n');
    const {fields, used} = fieldsIn(lines, '2.2', config);
    expect(fields.mounting).toEqual({roll: 0, pitch: 0, yaw: 90});
    expect(fields.receiver).toEqual({...config.receiver, roll: 2});
    expect(used.map((l) => pathOf(l))).toEqual(['mounting.yaw', 'receiver.roll']);
  });
});

describe('faults', () => {
  it('name line, key and what was expected', () => {
    const {faults} = readText(
      [
        '[controller]',
        'version = "2.2"',
        '[motors]',
        'poles = 3.5',
        'arms = [ 1,',
        '  0 ]',
        '"protocol" = "fast"',
        '[[switches]]',
        'use = "arm"',
        'channel = 5',
      ].join('\n'),
    );
    expect(faults).toEqual([
      {line: 4, key: 'motors.poles', message: '3.5 is not a whole number from 2 to 60.'},
      {line: 5, key: 'motors.arms', message: expect.stringContaining('[1, 0] is not a list of up to 16') as unknown},
      {line: 7, key: 'motors.protocol', message: expect.stringContaining('one of "analog", "oneshot125"') as unknown},
      {line: 8, key: 'switches', message: expect.stringContaining('from_us: a number from 800 to 2200') as unknown},
    ]);
  });

  it('of a text that is no TOML have the line of the library', () => {
    const read = readText('[motors]\npoles = 14\nidle_percent = = 4\n');
    expect(read.lines).toEqual([]);
    expect(read.faults).toEqual([
      {line: 3, key: '', message: expect.stringMatching(/^It is not valid TOML: /) as unknown},
    ]);
    expect(readText('a = 1\na = 2').faults[0]!.line).toBe(2);
  });

  it('an unknown version is told and read as the newest', () => {
    const read = readText('[controller]\nversion = "9.9"\n');
    expect([read.readAs, read.faults[0]!.line, read.faults[0]!.key]).toEqual(['2.2', 2, 'controller.version']);
  });
});

it('two texts differ line by line, whatever the firmware knows', () => {
  const other = readText(
    text.replace('poles = 14', 'poles = 12').replace(/^idle_percent.*\n/m, '') + '\n[odd]\nx = 1\n',
  );
  expect(compareTexts(readText(text), other)).toEqual([
    {section: 'motors', key: 'poles', from: '14', to: '12'},
    {section: 'motors', key: 'idle_percent', from: '4', to: undefined},
    {section: 'odd', key: 'x', from: undefined, to: '1'},
  ]);
  expect(compareTexts(other, other)).toEqual([]);
});

describe('carried over', () => {
  const old = readText(`[controller]
version = "2.0"
[motors]
protocol = "dshot300"
idle_us = 1055
[filters]
gyro_hz = 30
d_hz = 90
[channels]
roll = 2
[buzz]
volume = 7
`);
  const carried = carryText(old, '2.2');
  const fate = (path: string) => carried.report.find((l) => l.from === path || l.to === path)?.fate;

  it('every line has its fate, and the new text reads without a fault', () => {
    expect(fate('motors.protocol')).toBe('kept');
    expect(fate('motors.idle_us')).toBe('renamed');
    expect(fate('channels.roll')).toBe('moved');
    expect(fate('filters.gyro_hz')).toBe('out of range');
    expect(fate('buzz.volume')).toBe('unknown');
    expect(fate('motors.replies')).toBe('new');
    const now = readText(carried.text);
    expect([now.version, now.faults]).toEqual(['2.2', []]);
    const {fields} = fieldsIn(now.lines, '2.2', {});
    expect(fields).toMatchObject({idlePercent: 5.5, gyroLowPassHz: 50, dLowPassHz: 90, replies: false});
    expect(carried.text).toContain('[buzz]\nvolume = 7');
  });

  it('back again what 2.0 does not have is told as gone, and the rest comes back', () => {
    const back = carryText(readText(carried.text), '2.0');
    expect(back.report.filter((l) => l.fate === 'gone').map((l) => l.from)).toContain('motors.replies');
    const there = readText(back.text);
    const idle = there.lines.find((l) => pathOf(l) === 'motors.idle_us');
    expect(idle?.value).toBe(1055);
  });

  it('to its own version keeps every line', () => {
    for (const version of textVersions) {
      const own = readText(writeText(config, {...of, version}, version));
      const same = carryText(own, version);
      expect(new Set(same.report.map((l) => l.fate))).toEqual(new Set(['kept']));
      expect(compareTexts(own, readText(same.text))).toEqual([]);
    }
  });
});

describe('rows', () => {
  const plan = asRunning({...config, poles: 12});
  const other = readText('[motors]\npoles = 16\nidle_percent = 99\n[mounting]\nyaw = 180\n[odd]\nx = 1\n');
  const rows = textRows({version: '2.2', found: config, plan, other});
  const row = (path: string) => rows.find((r) => r.path === path)!;

  it('hold found, plan and another text side by side', () => {
    expect(row('motors.poles')).toMatchObject({found: '14', plan: '12', other: '16'});
    expect(row('motors.poles').differs).toEqual({foundPlan: true, otherPlan: true});
    expect(row('loop.loop_hz')).toMatchObject({found: '8000', plan: '8000', other: undefined});
    expect(row('loop.loop_hz').differs).toEqual({foundPlan: false, otherPlan: false});
    // What is out of range or unknown is shown, and cannot be planned.
    expect(row('motors.idle_percent')).toMatchObject({other: '99', line: undefined});
    expect(row('odd.x')).toMatchObject({found: undefined, plan: undefined, other: '1', line: undefined});
  });

  it('chosen lines become plan edits, and nothing else does', () => {
    const chosen = [row('motors.poles'), row('mounting.yaw')].map((r) => r.line!);
    expect(planFrom(chosen, '2.2', plan)).toEqual({poles: 16, mounting: {roll: 0, pitch: 0, yaw: 180}});
  });
});

const name = fc.oneof(
  fc.stringMatching(/^[a-z_][a-z0-9_-]{0,8}$/),
  fc.string({minLength: 1, maxLength: 6}).filter((s) => s !== '__proto__' && !/[.\n\r]/.test(s)),
);
const scalar = fc.oneof(
  fc.integer({min: -1e9, max: 1e9}),
  fc.double({noNaN: true, noDefaultInfinity: true}).map((v) => (v === 0 ? 0 : v)),
  fc.boolean(),
  fc.string(),
  fc.date({min: new Date('1980-01-01'), max: new Date('2080-01-01'), noInvalidDate: true}).map((d) => new TomlDate(d)),
);
const {value} = fc.letrec<{value: TomlValue; table: TomlTable}>((tie) => ({
  value: fc.oneof({maxDepth: 3}, scalar, fc.array(tie('value'), {maxLength: 3}), tie('table')),
  table: fc.dictionary(name, tie('value'), {maxKeys: 4}),
}));
const document = fc.dictionary(name, value, {maxKeys: 6}) as fc.Arbitrary<TomlTable>;

describe('any TOML 1.0 text', () => {
  it('goes through line by line and loses nothing', () => {
    fc.assert(
      fc.property(document, (table) => {
        const before = parse(stringify(table));
        const {lines, faults} = readText(stringify(table));
        if (faults.some((f) => f.key === '')) throw new Error(faults[0]!.message);
        const after = parse(writeLines(lines.map((l) => ({...l, comment: l.section.length % 2 ? 'a comment' : ''}))));
        expect(after).toEqual(before);
      }),
      {numRuns: 1000},
    );
  });

  it('has every line where the key stands', () => {
    fc.assert(
      fc.property(document, (table) => {
        const written = stringify(table);
        const rows = written.split('\n');
        for (const {path, line} of keyLines(written)) {
          const last = path.split('.').at(-1)!;
          const row = rows[line - 1]!;
          if (/^[a-z_][\w-]*$/.test(last)) expect(row).toContain(last);
        }
        for (const l of readText(written).lines)
          if (/^[a-z][\w-]*$/.test(l.key)) expect(rows[l.line - 1]).toContain(l.key);
      }),
      {numRuns: 500},
    );
  });
});

describe('a text that is far too long or deep', () => {
  const counted = (text: string) => {
    const read = readText(text);
    return {lines: read.lines.length, line: read.lines.at(-1)?.line, faults: read.faults.map((f) => f.message)};
  };

  it('of 30,000 keys is read, each with its own line', () => {
    const keys = Array.from({length: 30_000}, (_, i) => `k${i} = ${i}`);
    expect(counted(`[a]\n${keys.join('\n')}`)).toEqual({lines: 30_000, line: 30_001, faults: []});
    const read = readText(Array.from({length: 20_000}, (_, i) => `[s${i}]\nk = 1`).join('\n'));
    expect(sectionsOf(read)).toHaveLength(20_000);
    expect(carryText(read, '2.2').report.filter((l) => l.fate === 'unknown')).toHaveLength(20_000);
  });

  it('beyond its bounds is refused with a reason, not read for minutes', () => {
    expect(counted('#'.repeat(1_000_001))).toMatchObject({
      lines: 0,
      faults: [expect.stringContaining('1000001 letters')],
    });
    const many = Array.from({length: 60_000}, (_, i) => `k${i}=1`).join('\n');
    expect(counted(many)).toMatchObject({lines: 0, faults: [expect.stringContaining('60000 keys')]});
    expect(counted(`${'a.'.repeat(50_000)}b = 1`)).toMatchObject({
      lines: 0,
      faults: [expect.stringContaining('32 levels')],
    });
  });
});
