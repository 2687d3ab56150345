import {mkdtempSync, readFileSync, writeFileSync} from 'node:fs';
import {tmpdir} from 'node:os';
import {join} from 'node:path';
import {fileURLToPath} from 'node:url';
import {describe, expect, it} from 'vitest';
import type {AddressInfo} from 'node:net';
import {ask} from './ask';
import {serveBench} from './serve-bench';

const at = (path: string) => fileURLToPath(new URL(`../../${path}`, import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'bidex-'));
const write = (name: string, text: string) => {
  writeFileSync(join(folder, name), text);
  return join(folder, name);
};

describe('bidex image', () => {
  it('tells segments, digests and identity of a release', async () => {
    const {output, exitCode} = await ask(['image', at('demo/releases/meridian_4.2_gneiss-45_multirotor.hex')]);
    expect(exitCode).toBe(0);
    expect(output).toMatchObject({
      segments: [{start: 0x1000, length: 41_984}],
      identity: {family: 'Meridian', version: '4.2'},
      faults: [],
    });
  });
  it('the CRC-32 with gaps as 0xFF is the one srec_cat computed', async () => {
    const file = write(
      'low.hex',
      ':020000040000FA\n:0201000011225A\n:02010400334482\n:00000001FF\n'.replace('5A', 'CA'),
    );
    // CRC-32 of 11 22 FF FF 33 44, from Python's zlib.crc32.
    expect((await ask(['image', file])).output).toMatchObject({length: 6, crc32: '270ede5c'});
  });
  it('a damaged file ends with its faults and a code', async () => {
    const {output, exitCode} = await ask(['image', write('bad.hex', ':0400000001020304F3\n')]);
    expect(exitCode).toBe(1);
    expect(output).toMatchObject({
      faults: [{line: 1, kind: 'bad-checksum'}, {kind: 'missing-end'}],
      error: {code: 'image-faults'},
    });
  });
});

describe('bidex image, other formats', () => {
  const raw = write('raw.dat', 'raw bytes');
  it('reads raw bytes at a base, and says when it needs one', async () => {
    expect((await ask(['image', raw, '--base', '0x1000'])).output).toMatchObject({
      format: 'bin',
      segments: [{start: 0x1000, length: 9}],
    });
    expect(await ask(['image', raw])).toMatchObject({exitCode: 1, output: {error: {code: 'base-missing'}}});
    expect(await ask(['image', raw, '--base', 'here'])).toMatchObject({exitCode: 1, output: {error: {code: 'base'}}});
  });
  it('compares two images byte by byte', async () => {
    const a = write('a.s19', 'S1050100AABB94\nS9030000FC\n');
    const b = write('b.s19', 'S1050100AACC83\nS1040103112D\nS9030000FC\n'.replace('112D', '11E6'));
    expect((await ask(['image', a, '--against', a])).output).toMatchObject({
      format: 's-record',
      against: {equal: true, differingBytes: 0},
    });
    expect((await ask(['image', a, '--against', b])).output).toMatchObject({
      against: {
        equal: false,
        differingBytes: 2,
        runs: [
          {start: 0x101, length: 1},
          {start: 0x103, length: 1},
        ],
      },
    });
  });
  it('the image a second release is compared with shows what an update changes', async () => {
    const [older, newer] = ['4.1', '4.2'].map((v) => at(`demo/releases/meridian_${v}_gneiss-45_multirotor.hex`));
    expect((await ask(['image', newer!, '--against', older!])).output).toMatchObject({
      against: {equal: false, faults: []},
    });
  });
});

describe('bidex noise', () => {
  const log = at('demo/logs/juniper-before.csv.gz');
  it('noise: columns, rate, rows, spectra under the log’s own names, poles, motors, resonances, findings', async () => {
    const {output, exitCode} = await ask(['noise', log, '--poles', '14', '--at', '50,212']);
    expect(exitCode).toBe(0);
    const axis = {'1': expect.any(Number), '2': expect.any(Number), '3': expect.any(Number)};
    expect(output).toMatchObject({
      columns: {
        time: 'time_us',
        gyro: ['gyro_roll', 'gyro_pitch', 'gyro_yaw'],
        throttle: 'throttle_pct',
        speeds: ['erpm_1', 'erpm_2', 'erpm_3', 'erpm_4'],
        speedUnit: 'eRPM',
        timeUnit: 'µs',
      },
      sampleRateHz: 2000,
      rows: 40_000,
      dropped: {badValues: 0, repeatedTimes: 0, gaps: []},
      spectra: {
        gyro_roll: {
          at: [{hz: 50, binHz: expect.any(Number), density: expect.any(Number)}, {hz: 212}],
          peaks: expect.any(Array),
        },
      },
      poles: {logged: 14, fitted: 14, candidates: expect.arrayContaining([{poles: 12, score: expect.any(Number)}])},
      motors: [1, 2, 3, 4].map(() => ({
        amplitudes: {gyro_roll: axis, gyro_pitch: axis, gyro_yaw: axis},
        coastDownS: expect.any(Number),
      })),
      resonances: expect.arrayContaining([
        {axis: 'gyro_roll', hz: expect.closeTo(211, -1), q: expect.any(Number), prominenceDb: expect.any(Number)},
      ]),
      findings: expect.arrayContaining([
        {kind: 'long-coast', motor: 3, text: expect.stringContaining('Motor 3 takes')},
      ]),
    });
  });

  it('noise: an earlier flight is held against it, axis by axis', async () => {
    const before = at('demo/logs/juniper-after.csv.gz');
    const {output, exitCode} = await ask(['noise', log, '--before', before]);
    const change = {dB: expect.any(Number), bound: expect.any(Number)};
    expect(exitCode).toBe(0);
    expect(output).toMatchObject({
      questions: [],
      compared: {
        verdict: expect.stringMatching(/^(quieter|louder|alike)$/),
        why: expect.stringContaining('At the motors’ speed the later flight is'),
        axes: {gyro_roll: {lines: {1: change, 2: change}, floor: change}},
      },
    });
    expect(await ask(['noise', log, '--before', join(folder, 'nothing.csv')])).toMatchObject({
      exitCode: 1,
      output: {error: {code: 'file', message: expect.stringContaining('nothing.csv cannot be read')}},
    });
  });

  it('noise: a unit that no name gives is asked for, and can be said', async () => {
    const rows = Array.from({length: 3000}, (_, i) => [i / 1000, Math.sin(i / 9), Math.cos(i / 7), Math.sin(i / 5)]);
    const lines = rows.map((row) => row.map((v) => v.toFixed(5)).join(','));
    const file = write('units.csv', ['time_s,gyro_x,gyro_y,gyro_z', ...lines].join('\n'));
    const guessed = await ask(['noise', file, '--poles', '14']);
    expect(guessed.output).toMatchObject({
      columns: {gyroUnit: 'rad/s'},
      questions: [{about: 'gyro', taken: 'rad/s', others: ['deg/s'], text: expect.stringContaining('deg/s fits too')}],
    });
    const said = await ask(['noise', file, '--poles', '14', '--unit', 'gyro=deg/s']);
    expect(said.output).toMatchObject({columns: {gyroUnit: 'deg/s'}, questions: []});
    expect(await ask(['noise', file, '--poles', '14', '--unit', 'gyro=miles'])).toMatchObject({
      exitCode: 1,
      output: {error: {code: 'unit', message: expect.stringContaining('gyro in deg/s, rad/s, raw')}},
    });
  });

  it('noise: a plan of filters laid over the flight is called predicted', async () => {
    const plan = join(folder, 'plan.json');
    writeFileSync(plan, JSON.stringify({notchHarmonics: [1, 2], gyroLowPassHz: 300}));
    const {output} = await ask(['noise', log, '--poles', '14', '--filter', plan]);
    const {filtered} = output as {
      filtered: {
        predicted: boolean;
        delayAt60HzMs: number;
        spectra: Record<string, {rmsBefore: number; rmsAfter: number}>;
      };
    };
    expect(filtered).toMatchObject({predicted: true, delayAt60HzMs: expect.closeTo(1.5, 0)});
    expect(filtered.spectra['gyro_roll']!.rmsAfter).toBeLessThan(0.2 * filtered.spectra['gyro_roll']!.rmsBefore);
    writeFileSync(plan, '{"notchQ": "wide"}');
    expect(await ask(['noise', log, '--poles', '14', '--filter', plan])).toMatchObject({
      exitCode: 1,
      output: {error: {code: 'filter', message: expect.stringContaining('notchQ')}},
    });
  });

  it('filter: response and sections', async () => {
    const filter = (...args: string[]) => ask(['filter', ...args, '--fs', '8000']);
    const {output} = await filter('--type', 'lowpass2', '--f0', '100', '--at', '0,100');
    expect(output).toMatchObject({
      at: [
        {
          hz: 0,
          db: expect.closeTo(0, 9),
          phaseDeg: expect.closeTo(0, 9),
          phaseDelayMs: expect.any(Number),
          groupDelayMs: expect.any(Number),
        },
        {hz: 100, db: expect.closeTo(-3.2, 0)},
      ],
      sections: [
        {b: [expect.any(Number)], a: [1, expect.any(Number)]},
        {b: [expect.any(Number)], a: [1, expect.any(Number)]},
      ],
    });
    expect((await filter('--type', 'notch', '--f0', '200', '--q', '5', '--at', '200')).output).toMatchObject({
      at: [{db: expect.any(Number)}],
      sections: [{a: [1, expect.any(Number), expect.any(Number)]}],
    });
    for (const [args, code] of [
      [['--type', 'bell', '--f0', '1'], 'type'],
      [['--type', 'notch', '--f0', '4000'], 'f0'],
      [['--type', 'notch', '--f0', '100', '--q', '0'], 'q'],
      [['--type', 'notch', '--f0', '100', '--at', '9999'], 'at'],
    ] as const)
      expect(await filter(...args)).toMatchObject({exitCode: 1, output: {error: {code}}});
  });

  it.each([
    [['x.csv', '--poles', '14'], 'file'],
    [[at('package.json'), '--poles', '14'], 'flight-log'],
    [[at('package.json'), '--poles', '13'], 'poles'],
    [[log, '--poles', '14', '--at', '5000'], 'at'],
    [[], 'usage'],
    [[log, '--colour', 'green'], 'usage'],
  ])('noise %j ends with error %s', async (args, code) => {
    const {output, exitCode} = await ask(['noise', ...args]);
    expect([exitCode, (output as {error: {code: string}}).error.code]).toEqual([1, code]);
  });
  it.each([
    [['image', at('package.json'), '--poles', '14'], 'usage'],
    [['something'], 'usage'],
    [[], 'usage'],
  ])('%j ends with error %s', async (args, code) => {
    const {output, exitCode} = await ask(args);
    expect([exitCode, (output as {error: {code: string}}).error.code]).toEqual([1, code]);
  });
});

describe('bidex capture', () => {
  const dump = (body: string) =>
    `$timescale 1 us $end $var wire 1 ! a $end $var wire 1 # b $end $enddefinitions $end #0 0! 0# ${body}`;

  it('answers as it is written down: a wire with frames, one without', async () => {
    const {output, exitCode} = await ask(['capture', at('core/fixtures/capture-7.vcd.gz'), '--poles', '14']);
    expect(exitCode).toBe(0);
    const {wires, faults} = output as {wires: Record<string, unknown>[]; faults: unknown[]};
    expect(faults).toEqual([]);
    expect(Object.keys(wires[0]!)).toEqual([
      ...['name', 'protocol', 'bitRate', 'inverted', 'bidirectional', 'commands', 'replies', 'glitches'],
      ...['replyLossPercent', 'replyLossOfSeenPercent', 'bitRateErrorPercent', 'jitterNs', 'turnaroundUs'],
    ]);
    const {commands, replies} = wires[0] as {
      commands: Record<string, unknown>[];
      replies: {command: number; status: string; erpm: number; periodUs: number; rpm: number}[];
    };
    expect(Object.keys(commands[0]!)).toEqual(['t', 'value', 'telemetry', 'ok']);
    expect(Object.keys(replies[0]!)).toEqual(['t', 'command', 'periodUs', 'erpm', 'rpm', 'status', 'why']);
    const good = replies.find((r) => r.status === 'ok')!;
    // eRPM = 60·10⁶ / period, rpm = eRPM / pole pairs (open trade protocol).
    expect(good.erpm).toBeCloseTo(60e6 / good.periodUs, 6);
    expect(good.rpm).toBeCloseTo(good.erpm / 7, 6);
    expect(replies.map((r) => r.command)).toEqual(commands.map((_, i) => i));
  });

  it('pulses are named by their lengths, a wire that never moves is silent', async () => {
    const pulses = Array.from({length: 20}, (_, i) => `#${1000 + 20_000 * i} 1! #${2500 + 20_000 * i} 0!`).join(' ');
    const {output, exitCode} = await ask(['capture', write('pulses.vcd', dump(`${pulses} #500000`))]);
    expect(exitCode).toBe(0);
    expect(output).toMatchObject({
      wires: [
        {name: 'a', protocol: 'analog', bitRate: null, commands: [], replyLossPercent: null},
        {name: 'b', protocol: 'silent', inverted: false},
      ],
    });
  });

  it('what does not read is told with its line; a file without wires ends with a code', async () => {
    const read = async (name: string, text: string) => ask(['capture', write(name, text)]);
    expect((await read('half.vcd', dump('#5 1?'))).output).toMatchObject({faults: [{line: 1}], wires: [{}, {}]});
    expect(await read('empty.vcd', '')).toMatchObject({exitCode: 1, output: {wires: [], faults: [{}]}});
    expect(await ask(['capture', join(folder, 'none.vcd')])).toMatchObject({
      exitCode: 1,
      output: {error: {code: 'file'}},
    });
    expect(await ask(['capture', write('a.vcd', dump('')), '--poles', '13'])).toMatchObject({exitCode: 1});
  });
});

describe('bidex controller', () => {
  const text = 'docs/formats/controller-text.toml';
  const file = (name: string, content: string) => {
    const path = join(folder, name);
    writeFileSync(path, content);
    return path;
  };

  it('sections, differences and the report of carrying over', async () => {
    const other = file('other.toml', readFileSync(text, 'utf8').replace('poles = 14', 'poles = 12'));
    const {output, exitCode} = await ask(['controller', text, '--against', other, '--to', '2.0']);
    expect(exitCode).toBe(0);
    expect(output).toMatchObject({
      firmware: 'Plumb',
      version: '2.2',
      sections: expect.arrayContaining([
        {
          name: 'motors',
          keys: expect.arrayContaining([{key: 'poles', value: 14, line: expect.any(Number), known: true}]),
        },
      ]),
      differences: [{section: 'motors', key: 'poles', from: '14', to: '12'}],
      carryOver: {
        ...{from: '2.2', to: '2.0'},
        report: expect.arrayContaining([expect.objectContaining({fate: 'gone', from: 'motors.replies', to: null})]),
      },
      faults: [],
    });
  });

  it('faults with line and key, and a code; an unknown version is refused', async () => {
    const bad = file('bad.toml', '[motors]\npoles = "many"\n');
    expect(await ask(['controller', bad])).toMatchObject({
      exitCode: 1,
      output: {
        faults: [{line: 2, key: 'motors.poles', message: expect.stringContaining('a whole number from 2 to 60')}],
      },
    });
    expect(await ask(['controller', file('none.toml', 'a = = 1')])).toMatchObject({
      exitCode: 1,
      output: {faults: [{line: 1}]},
    });
    expect(await ask(['controller', text, '--to', '7'])).toMatchObject({exitCode: 1, output: {error: {code: 'to'}}});
  });
});

describe('bidex check-adapter', () => {
  // The whole list waits for what takes real time: tools/check-adapter.test.ts goes through it once.
  it('answers in JSON with every rule that is asked, and with a code when one is broken', async () => {
    const server = await serveBench({craft: 'juniper', port: 0, fault: 'speaks-any-version'});
    const {port} = server.address() as AddressInfo;
    const only = ['hello', 'hello-version', 'numbers', 'single-wire'];
    const {output, exitCode} = await ask([
      'check-adapter',
      '--connect',
      `127.0.0.1:${port}`,
      '--only',
      only.join(','),
      '--json',
    ]);
    server.close();
    expect(exitCode).toBe(1);
    expect(output).toMatchObject({adapter: 'Simulated bench', road: 'controller', broken: 1, notTried: 1});
    expect((output as {rules: {id: string; result: string}[]}).rules.filter((r) => r.result === 'broken')).toEqual([
      expect.objectContaining({id: 'hello-version', detail: expect.stringContaining('link-version')}),
    ]);
  });

  it('says that nobody is there, and what it takes', async () => {
    expect(await ask(['check-adapter', '--connect', '127.0.0.1:1'])).toMatchObject({
      exitCode: 1,
      output: {error: {code: 'connect', message: expect.stringContaining('127.0.0.1:1')}},
    });
    for (const args of [[], ['--connect', 'nowhere'], ['--connect', 'a:99999'], ['--colour', 'green']])
      expect(await ask(['check-adapter', ...args])).toMatchObject({exitCode: 1, output: {error: {code: 'usage'}}});
  });

  it.each([
    [['--craft', 'nobody', '--listen', '0']],
    [['--craft', 'juniper']],
    [['--craft', 'juniper', '--listen', '70000']],
    [['--craft', 'juniper', '--listen', '0', '--fault', 'sings']],
  ])('a bench of %j is refused with the faults there are', async (args) => {
    expect(await ask(['bench', ...args])).toMatchObject({
      exitCode: 1,
      output: {error: {code: 'usage', message: expect.stringContaining('answers-late')}},
    });
  });
});

describe('bidex chain', () => {
  const log = at('core/fixtures/flight-varied.csv.gz');
  it('proposes the quietest chain within a delay, with what it leaves and costs; noise lays it over the flight', async () => {
    const {output, exitCode} = await ask(['chain', log, '--poles', '14', '--delay-ms', '1', '--load-percent', '60']);
    expect(exitCode).toBe(0);
    const found = output as {chain: Record<string, unknown>; delayMs: number; left: number; was: number};
    expect(found).toMatchObject({
      ...{predicted: true, atHz: 60, fromHz: 80, unit: 'deg/s', mostLoadPercent: 60},
      chain: {notchHarmonics: expect.any(Array), notchQ: expect.any(Number), gyroLowPassHz: expect.any(Number)},
      reasons: expect.arrayContaining([expect.stringContaining('low-pass')]),
    });
    expect(found.delayMs).toBeLessThanOrEqual(1);
    expect(found.left).toBeLessThan(found.was / 2);
    const plan = join(folder, 'chain.json');
    writeFileSync(plan, JSON.stringify(found.chain));
    const {filtered} = (await ask(['noise', log, '--poles', '14', '--filter', plan])).output as {
      filtered: {delayAt60HzMs: number};
    };
    expect(filtered.delayAt60HzMs).toBeCloseTo(found.delayMs, 1);
  });

  it('says which delay is the least, and refuses what is no number', async () => {
    const run = (...more: string[]) => ask(['chain', log, '--poles', '14', ...more]);
    const flown = at('demo/logs/juniper-before.csv.gz');
    expect(await ask(['chain', flown, '--poles', '14', '--delay-ms', '0.001'])).toMatchObject({
      exitCode: 1,
      output: {error: {code: 'delay', message: expect.stringMatching(/the least is 0\.\d+ ms/)}},
    });
    expect(await run('--load-percent', '3')).toMatchObject({exitCode: 1, output: {error: {code: 'load'}}});
    expect(await run('--delay-ms', 'soon')).toMatchObject({output: {error: {code: 'delay'}}});
    expect(await run('--load-percent', '101')).toMatchObject({output: {error: {code: 'load'}}});
    expect(await ask(['chain', log, '--poles', '13'])).toMatchObject({output: {error: {code: 'poles'}}});
  });
});
