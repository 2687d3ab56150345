/** The headless door on spin traces: the shape of its answer, motors counted from 1, errors with place and remedy. */
import {execFileSync, spawnSync} from 'node:child_process';
import {mkdtempSync, writeFileSync} from 'node:fs';
import {tmpdir} from 'node:os';
import {join} from 'node:path';
import {describe, expect, it} from 'vitest';
import reference from '@core/fixtures/spin.json';

const door = ['tools/bidex.mjs', 'spin'];
const trace = 'core/fixtures/spin.csv';

interface Motor {
  readonly startsAtPercent: number | null;
  readonly coastDownS: number | null;
  readonly kv: number | null;
  readonly stutters: readonly number[];
  readonly desyncs: readonly number[];
  readonly reasons: Readonly<Record<string, string>>;
}

describe('bidex spin', () => {
  const {motors, oddOnes, findings} = JSON.parse(execFileSync('node', [...door, trace], {encoding: 'utf8'})) as {
    motors: readonly Motor[];
    oddOnes: readonly {motor: number; what: string}[];
    findings: readonly {kind: string; motor?: number; text: string}[];
  };
  it('has the fields of the four motors, null with a reason where the trace cannot tell', () => {
    expect(motors).toHaveLength(4);
    for (const motor of motors)
      expect(Object.keys(motor)).toEqual(
        expect.arrayContaining([
          'startsAtPercent',
          'spoolUpS',
          'coastDownS',
          'kv',
          'resistanceOhm',
          'inertia',
          'stutters',
          'desyncs',
        ]),
      );
    expect(motors[1]!.coastDownS).toBeNull();
    expect(motors[1]!.reasons['coastDownS']).toMatch(/had not fallen to 37 %/);
    motors.forEach((m, i) => expect(Math.abs(m.kv! / reference.truth[i]!.kv - 1)).toBeLessThan(0.005));
  });
  it('counts motors from 1 in what is odd and found', () => {
    expect(oddOnes.map(({motor, what}) => [motor, what])).toEqual([[2, 'coastDownS']]);
    expect(findings.map(({kind, motor}) => [kind, motor])).toEqual([
      ['stutter', 3],
      ['desync', 4],
      ['odd-coast-down', 2],
    ]);
  });
  it.each([
    [[trace, '--poles', '13'], 'poles'],
    [[trace, '--volts', '-1'], 'volts'],
    [['nothing.csv'], 'file'],
  ])('%j ends with code 1 and says why', (args, code) => {
    const {status, stdout} = spawnSync('node', [...door, ...args], {encoding: 'utf8'});
    expect(status).toBe(1);
    expect((JSON.parse(stdout) as {error: {code: string}}).error.code).toBe(code);
  });
  it('electrical speeds without a pole count say what is missing', () => {
    const file = join(mkdtempSync(join(tmpdir(), 'bidex-spin-')), 'e.csv');
    writeFileSync(file, 'time_s,throttle_1,erpm_1\n' + Array.from({length: 9}, (_, i) => `${i},5,100`).join('\n'));
    const {status, stdout} = spawnSync('node', [...door, file], {encoding: 'utf8'});
    expect(status).toBe(1);
    expect(stdout).toContain('--poles');
  });
});
