/** The analysis on flights whose truth is known: amplitudes, pole counts, resonances, falls, losses, lost steps. */
import {describe, expect, it} from 'vitest';
import {axisShare, knownFlight, orderShare, type KnownFlight} from '../testing/known-flight';
import {axes} from '../flight/mapping';
import {reportFlight, type FlightReport} from './flight-report';

const report = (f: KnownFlight, loggedPoles = f.poles): FlightReport =>
  reportFlight(knownFlight(f), {loggedPoles})!.report;
const sound: KnownFlight = {seed: 1, poles: 14, speeds: [1, 1.04, 0.97, 1.02], loud: [8, 9, 7.5, 8.5]};
const kinds = (r: FlightReport) => r.findings.map((f) => f.kind);

describe('order tracking', () => {
  it.each([
    ['quad', sound],
    ['two motors within a percent of each other', {...sound, seed: 2, speeds: [1, 1.008, 1.06, 0.95]}],
    [
      'hexa, one motor three times as strong',
      {...sound, seed: 3, speeds: [1, 1.05, 0.96, 1.1, 0.92, 1.02], loud: [6, 5, 6, 18, 7, 6]},
    ],
    ['a resonance in the way', {...sound, seed: 4, resonance: {hz: 170, q: 12}}],
    ['4 kHz, late replies', {...sound, seed: 5, rate: 4000, seconds: 12, lateMs: 8}],
  ] as [string, KnownFlight][])('finds every amplitude within 10 %%: %s', (_, f) => {
    const {orders} = report(f);
    const wrong = orders.flatMap(({orders: own}, m) =>
      orderShare.flatMap((share, k) =>
        axes.flatMap((axis, a) => {
          const truth = f.loud[m]! * share * axisShare[a]!;
          const found = own.get(k + 1)?.[axis].amplitude ?? NaN;
          // What is below the noise of a sample is told with its bound, not within a tenth.
          const room = Math.max(0.1 * truth, truth < 1 ? 0.15 : 0);
          return Math.abs(found - truth) <= room
            ? []
            : [`motor ${m + 1} ${k + 1}× ${axis}: ${found.toFixed(2)}, true ${truth.toFixed(2)}`];
        }),
      ),
    );
    expect(orders).toHaveLength(f.loud.length);
    expect(wrong).toEqual([]);
  });

  it('says nothing of an order beyond half the rate', () => {
    const {orders} = report({...sound, rate: 500, seconds: 30});
    expect(orders[0]!.orders.get(3)).toBeUndefined();
    expect(orders[0]!.orders.get(1)).toBeDefined();
  });

  it('ends when it is told to', () => {
    expect(reportFlight(knownFlight(sound), {loggedPoles: 14, onProgress: (share) => share < 0.3})).toBeUndefined();
  });
});

describe('the pole count', () => {
  it('tells the ratio that the screen shows, and a likelihood for every even count from 6 to 28', () => {
    const {poles, usedPoles, findings} = report(sound, 12);
    expect(poles).toMatchObject({kind: 'found', poles: 14, ratio: expect.closeTo(12 / 14, 1.7)});
    expect(poles.candidates.map((c) => c.poles)).toEqual([6, 8, 10, 12, 14, 16, 18, 20, 22, 24, 26, 28]);
    expect(usedPoles).toBe(14);
    expect(findings[0]).toMatchObject({
      kind: 'wrong-poles',
      text: expect.stringContaining('Logged with 12 poles, but these motors have 14'),
    });
  });

  it('is refused without variation of speed, without speeds, and where no motor is to be heard', () => {
    const why = (r: FlightReport) => (r.poles.kind === 'unclear' ? r.poles.why : `found ${r.poles.poles}`);
    expect(why(report({...sound, swing: 0}))).toContain('vary by a factor of 1.0');
    expect(why(report({...sound, loud: [0, 0, 0, 0]}))).toContain('does not stand out');
    const log = {...knownFlight(sound), speeds: {kind: 'electrical' as const, hz: []}};
    const silent = reportFlight(log, {loggedPoles: 14})!.report;
    expect(why(silent)).toBe('The log has no motor speeds.');
    expect(silent.findings).toEqual([]);
  });

  it('is right for a log whose speeds the controller computed with another count', () => {
    const log = knownFlight({...sound, poles: 12});
    const mechanical = {kind: 'mechanical' as const, hz: log.speeds.hz.map((hz) => hz.map((v) => (v * 2) / 14))};
    const {poles, usedPoles} = reportFlight({...log, speeds: mechanical}, {loggedPoles: 14})!.report;
    expect([poles.kind, usedPoles]).toEqual(['found', 12]);
  });
});

it('the phase of a line against roll is the generator’s: the same turn at every order, twice that on yaw', () => {
  for (const {orders} of report({...sound, loud: [12, 9, 14, 10]}).orders) {
    const turns = [1, 2, 3].map((order) => orders.get(order)!);
    const apart = (a: number, b: number) => Math.abs(((a - b + 540) % 360) - 180);
    for (const {roll, pitch, yaw} of turns) {
      expect(roll.phaseDeg).toBe(0);
      expect(pitch.steadiness).toBeGreaterThan(0.9);
      expect(apart(pitch.phaseDeg, turns[0]!.pitch.phaseDeg)).toBeLessThan(6);
      expect(apart(yaw.phaseDeg, 2 * turns[0]!.pitch.phaseDeg)).toBeLessThan(12);
    }
  }
});

describe('what a flight says', () => {
  it('nothing of a sound craft', () => expect(report(sound).findings).toEqual([]));

  it('the motor that shakes', () => {
    const [finding, ...rest] = report({...sound, loud: [8, 8, 24, 8]}).findings;
    expect(rest).toEqual([]);
    expect(finding).toMatchObject({kind: 'unbalanced', motor: 2});
    expect(finding!.text).toMatch(/Motor 3 shakes at its own speed with 3\d\.\d ± \d\.\d deg\/s, 3\.\d times as much/);
  });

  it('the motor that falls late, with both times', () => {
    const {findings, coast} = report({...sound, lagS: [0.05, 0.05, 0.05, 0.14]});
    expect(coast.map((c) => c!.seconds)).toEqual(
      [0.05, 0.05, 0.05, 0.14].map((s): unknown => expect.closeTo(s, s > 0.1 ? 1.6 : 2)),
    );
    expect(findings.map((f) => [f.kind, f.motor])).toEqual([['long-coast', 3]]);
  });

  it.each([
    [118, 10],
    [212, 14],
    [330, 25],
  ])('a resonance at %i Hz, Q %i', (hz, q) => {
    const {resonances, findings} = report({...sound, seconds: 30, resonance: {hz, q}});
    expect(new Set(kinds({findings} as FlightReport))).toEqual(new Set(['resonance']));
    for (const r of resonances) {
      expect(Math.abs(r.hz - hz) / hz, `${r.axis} ${r.hz}`).toBeLessThan(0.03);
      expect(r.q / q, `${r.axis} ${r.q}`).toBeGreaterThan(0.5);
      expect(r.q / q, `${r.axis} ${r.q}`).toBeLessThan(2);
    }
    expect(resonances.length).toBeGreaterThan(0);
  });

  it('a tone that no part makes, apart from a resonance', () => {
    const {findings} = report({
      ...sound,
      change: ({gyro, rate}) =>
        gyro[1]!.forEach((_, i) => (gyro[1]![i]! += 3 * Math.sin((2 * Math.PI * 640 * i) / rate))),
    });
    expect(findings.map((f) => [f.kind, f.axis])).toEqual([['electrical', 'pitch']]);
    expect(findings[0]!.text).toMatch(/A tone at 64[01] Hz/);
  });

  it('the motor with something loose: it shakes at half its speed', () => {
    const {findings} = report({
      ...sound,
      change: ({gyro, trueHz, rate}) => {
        let phase = 0;
        trueHz[1]!.forEach((hz, i) => {
          phase += (Math.PI * hz) / rate;
          gyro[0]![i]! += 5 * Math.sin(phase);
        });
      },
    });
    expect(findings.map((f) => [f.kind, f.motor])).toEqual([['loose', 1]]);
    expect(findings[0]!.text).toMatch(/Motor 2 shakes at half its speed with [45]\.\d ± \d\.\d deg\/s, \d\d % of what/);
  });

  it('lost replies of one motor, bridged and counted, and that the craft twitched with them', () => {
    const losing: KnownFlight = {
      ...sound,
      change: ({erpm, gyro}) => {
        for (let i = 500; i < erpm[1]!.length - 50; i += 700) {
          erpm[1]!.fill(0, i, i + 3);
          for (let k = 0; k < 10; k++) gyro[0]![i + k]! += 60 * (-1) ** k;
        }
      },
    };
    const {findings, losses} = report(losing);
    expect(kinds({findings} as FlightReport)).toEqual(['reply-loss']);
    expect(findings[0]).toMatchObject({motor: 1, text: expect.stringContaining('After a burst the gyro moves')});
    expect(losses[0]!.share).toBeCloseTo(3 / 700, 4);
  });

  it('a lost step, and not a cut that everyone makes', () => {
    const slipping: KnownFlight = {
      ...sound,
      change: ({erpm, rate}) => {
        const from = Math.round(6.2 * rate);
        for (let i = from; i < from + 0.15 * rate; i++) erpm[2]![i] = Math.max(2000, erpm[2]![i]! * 0.35);
      },
    };
    const {findings} = report(slipping);
    expect(findings.map((f) => [f.kind, f.motor])).toEqual([['desync', 2]]);
    expect(findings[0]!.text).toContain('first at 6.2');
  });
});
