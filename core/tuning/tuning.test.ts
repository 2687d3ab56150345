/** Forecasts against filters run sample by sample, the search, its proposal and its reasons. */
import {beforeAll, describe, expect, it} from 'vitest';
import {chainOf, fieldsOf, type FilterFields} from '../controller/chain-of';
import {budgetOf, budgetWith} from '../controller/budget-of';
import {sectionsPerAxis, type FilterChain} from '../filters/chain';
import {delayLedger, totalDelayMs} from '../filters/delay-ledger';
import {lowPassKinds} from '../filters/section';
import {runChain} from '../filters/run-chain';
import {axes} from '../flight/mapping';
import type {FlightLog} from '../flight/flight-log';
import {reportFlight, type Reported} from '../noise/flight-report';
import {welch} from '../spectra/welch';
import {knownFlight, type KnownFlight} from '../testing/known-flight';
import {flightModel, type FlightModel} from './flight-model';
import {forecast, noiseFromHz, rmsOfAxes} from './forecast';
import {proposal} from './proposal';
import {orderShares, reasonsFor} from './reasons';
import {lowPassEffect} from './low-pass-effect';
import {notchedFlight} from './notched-flight';
import {front, searchChains, type SearchQuestion, type Trade} from './search';
import {throttleGroups} from './throttle-groups';
import {filterWindow} from './window-filter';

const flown: KnownFlight = {
  seed: 7,
  poles: 14,
  speeds: [1, 1.04, 0.97, 1.02],
  loud: [8, 9, 7.5, 8.5],
  resonance: {hz: 212, q: 14},
};
const plan: FilterFields = {
  replies: true,
  notchHarmonics: [1, 2],
  notchQ: 5,
  notchMinHz: 90,
  movingNotches: 0,
  gyroLowPassHz: 400,
};
let log: FlightLog;
let reported: Reported;
let model: FlightModel;
beforeAll(() => {
  log = knownFlight(flown);
  reported = reportFlight(log, {loggedPoles: 14})!;
  model = flightModel(log, reported.speeds.hz);
});

/** The same chain sample by sample, from 80 Hz up on all axes, deg/s. */
function timeDomain(chain: FilterChain): number {
  const {sampleRateHz, throttle} = log;
  const out = runChain(chain, {
    axes: axes.map((a) => log.gyro[a]),
    motorsHz: reported.speeds.hz,
    throttle,
    sampleRateHz,
  })!;
  const spectra = out.map((signal) => welch(signal, {sampleRateHz, segment: 256}));
  return rmsOfAxes(
    spectra.map((s) => s.density),
    spectra[0]!.stepHz,
    noiseFromHz,
  );
}

describe('a forecast', () => {
  it.each([
    ['notches', plan],
    ['notches and a low-pass', {...plan, gyroLowPassHz: 200}],
    ['a moving notch too', {...plan, movingNotches: 1}],
    ['low-pass only', {...plan, notchHarmonics: []}],
  ])('is what the filters leave when run, within 1.5 dB: %s', (_, fields) => {
    const chain = chainOf(fields);
    const {left, stepHz} = forecast(model, chain, log.sampleRateHz);
    const difference = 20 * Math.log10(rmsOfAxes(left, stepHz, noiseFromHz) / timeDomain(chain));
    expect(Math.abs(difference)).toBeLessThan(1.5);
  });

  it('knows that notches for a wrong count sit beside the noise', () => {
    const wrong = flightModel(
      log,
      reported.speeds.hz.map((hz) => hz.map((v) => (v * 14) / 12)),
    );
    const rms = (m: FlightModel) => rmsOfAxes(forecast(m, chainOf(plan), 8000).left, m.stepHz, noiseFromHz);
    expect(rms(wrong) / rms(model)).toBeGreaterThan(1.5);
  });

  it('puts D behind its own low-pass: (2πf)² of the gyro, attenuated', () => {
    const {left, dLeft, stepHz} = forecast(model, chainOf(plan), 8000);
    const k = 40;
    const bare = left[0]![k]! * (2 * Math.PI * k * stepHz) ** 2;
    expect(dLeft[0]![k]! / bare).toBeLessThan(0.2);
  });
});

describe('a window in the time domain', () => {
  it('at the gyro’s rate, four times the log’s, is what the log’s own rate gives far below both', () => {
    const chain = chainOf({...plan, gyroLowPassHz: 150});
    const at = (filterRateHz: number) =>
      filterWindow(log, reported.speeds.hz, chain, {fromS: 5, seconds: 0.25, filterRateHz})!;
    const [same, four] = [at(2000), at(8000)];
    expect(four.before[0]!.length).toBe(500);
    expect([...four.before[0]!]).toEqual([...log.gyro.roll.subarray(10_000, 10_500)]);
    const rms = (x: Float32Array) => Math.sqrt(x.reduce((sum, v) => sum + v * v, 0) / x.length);
    const difference = four.after[0]!.map((v, i) => v - same.after[0]![i]!);
    expect(rms(difference) / rms(four.after[0]!)).toBeLessThan(0.1);
  });

  it('is refused where no part is long enough', () => {
    const short = {...log, stretches: [{start: 0, end: 300, atS: 0}]};
    expect(
      filterWindow(short, reported.speeds.hz, chainOf(plan), {fromS: 0, seconds: 0.25, filterRateHz: 8000}),
    ).toBeUndefined();
  });
});

/** The best of a fine grid of following notches and fixed low-passes, by brute force. */
function bruteForce(q: SearchQuestion): Trade[] {
  const [model] = q.flights;
  const grouped = {model: model!, groups: throttleGroups(model!)};
  const lows = q.kinds.flatMap((kind) =>
    Array.from({length: 60}, (_, i) => lowPassEffect({kind, hz: Math.round(50 * 20 ** (i / 59))}, grouped, q)),
  );
  const all = [[1], [1, 2], [1, 2, 3]].flatMap((set) =>
    Array.from({length: 24}, (_, i) => 1.6 * 12.5 ** (i / 23)).flatMap((width): Trade[] => {
      const orders = set.map((order) => ({order, weight: 1}));
      const bank: FilterChain = {...q.from, motor: {...q.from.motor, q: width, orders}, gyroLowPasses: []};
      const {moments, was, leftBehind} = notchedFlight(grouped, bank, q.filterRateHz);
      const ms = totalDelayMs(delayLedger(bank, moments, {rateHz: q.filterRateHz, atHz: q.crossoverHz}));
      return lows.map((low) => ({
        chain: {...bank, gyroLowPasses: [low.stage]},
        ...{delayMs: ms! + low.delayMs, left: leftBehind(low), was, load: 0},
      }));
    }),
  );
  return front(all, 1);
}

describe('the search', () => {
  // A sixth of the moments: a search over as many as the station takes needs many times as long.
  const few = (m: FlightModel): FlightModel => ({...m, moments: m.moments.filter((_, i) => i % 6 === 0)});
  const question = (over: Partial<SearchQuestion> = {}): SearchQuestion => ({
    flights: [few(model)],
    from: chainOf(plan),
    filterRateHz: 8000,
    crossoverHz: 60,
    motors: 4,
    loadOf: (n) => 0.1 + 0.01 * n,
    mostLoad: 0.5,
    kinds: ['biquad-lowpass'],
    follows: false,
    ...over,
  });
  let trades: Trade[];
  beforeAll(() => (trades = searchChains(question())!));

  it('gives a curve on which less noise costs more delay, and nothing else', () => {
    expect(trades.length).toBeGreaterThan(15);
    for (let i = 1; i < trades.length; i++) {
      expect(trades[i]!.delayMs).toBeGreaterThanOrEqual(trades[i - 1]!.delayMs);
      expect(trades[i]!.left).toBeLessThan(trades[i - 1]!.left);
    }
  });

  it('its figures are those of the forecast and the ledger', () => {
    const {chain, left, delayMs} = trades[Math.floor(trades.length / 2)]!;
    const f = forecast(few(model), chain, 8000);
    expect(left / rmsOfAxes(f.left, f.stepHz, noiseFromHz)).toBeCloseTo(1, 0.8);
    expect(delayMs / totalDelayMs(delayLedger(chain, f.moments, {rateHz: 8000, atHz: 60}))!).toBeCloseTo(1, 0.8);
  });

  it('is the same every time, keeps within the load, and can be ended', () => {
    expect(searchChains(question())).toEqual(trades);
    const light = searchChains(question({mostLoad: 0.19}))!;
    expect(light.every((t) => sectionsPerAxis(t.chain, 4) <= 9)).toBe(true);
    expect(searchChains(question({onProgress: () => false}))).toBeUndefined();
  });

  it('is never worse than 2 % against every chain of a grid that is finer than its own, up to Q 20', () => {
    const grid = bruteForce(question({kinds: lowPassKinds}));
    const any = searchChains(question({kinds: lowPassKinds}))!;
    const worse = grid.flatMap((g) => {
      const own = any.filter((t) => t.delayMs <= g.delayMs).at(-1);
      return own && own.left > 1.02 * g.left ? [`${g.delayMs} ms: ${own.left} instead of ${g.left}`] : [];
    });
    expect(grid.length).toBeGreaterThan(100);
    expect(worse).toEqual([]);
    expect(any.some((t) => t.chain.motor.q > 10)).toBe(true);
  });

  it('over two flights it is judged by the one it serves worst', () => {
    const loud = knownFlight({...flown, seed: 8, speeds: [1.3, 1.34, 1.27, 1.32], loud: [20, 20, 20, 20]});
    const other = few(flightModel(loud, reportFlight(loud, {loggedPoles: 14})!.speeds.hz));
    const both = searchChains(question({flights: [few(model), other]}))!;
    const best = both.at(-1)!;
    const each = [few(model), other].map((m) => {
      const f = forecast(m, best.chain, 8000);
      return rmsOfAxes(f.left, f.stepHz, noiseFromHz) / rmsOfAxes(f.asFlown, f.stepHz, noiseFromHz);
    });
    expect(best.left / best.was / Math.max(...each)).toBeCloseTo(1, 0.8);
  });

  it('every point can be planned, and comes back as the same chain', () => {
    for (const {chain} of trades) {
      const fields = fieldsOf(chain, {});
      expect(Object.keys(fields)).toEqual(['notchHarmonics', 'notchQ', 'movingNotches', 'gyroLowPassHz']);
      expect(chainOf({...plan, ...fields})).toEqual(chain);
    }
    const any = searchChains(question({kinds: lowPassKinds, follows: true}))!;
    const craft: FilterFields = {...plan, notchWeights: [50], gyroLowPass: 'lowpass2', gyroLowPassFullHz: 900};
    for (const {chain} of any)
      expect(chainOf({...craft, notchWeights: [50], ...fieldsOf(chain, craft)})).toEqual(chain);
  });

  it('with every kind of low-pass finds points that are at least as good, and its figures are the forecast’s', () => {
    const any = searchChains(question({kinds: lowPassKinds, follows: true}))!;
    for (const t of trades) expect(any.some((a) => a.delayMs <= t.delayMs && a.left <= t.left * 1.021)).toBe(true);
    const {chain, left, delayMs} = any.find((t) => t.chain.gyroLowPasses[0]!.fullHz !== undefined)!;
    const f = forecast(few(model), chain, 8000);
    expect(left / rmsOfAxes(f.left, f.stepHz, noiseFromHz)).toBeCloseTo(1, 0.8);
    expect(delayMs / totalDelayMs(delayLedger(chain, f.moments, {rateHz: 8000, atHz: 60}))!).toBeCloseTo(1, 0.8);
  });

  it('proposes the point where a decibel begins to cost too much; where the craft is quieter, the least delay', () => {
    const knee = proposal(trades)!;
    expect(trades.indexOf(knee)).toBeGreaterThan(0);
    expect(trades.indexOf(knee)).toBeLessThan(trades.length - 1);
    // Not by the ends of the curve: without its last third it is the same point.
    expect(proposal(trades.slice(0, Math.ceil((2 * trades.length) / 3)))).toBe(knee);
    expect(proposal(trades, {delayMs: 9, left: knee.left * 3})).toBe(knee);
    const found = {delayMs: 9, left: knee.left * 0.7};
    expect(proposal(trades, found)).toBe(trades.find((t) => t.left <= found.left));
    expect(proposal(trades, {delayMs: 9, left: 0})).toBe(trades.at(-1));
    expect(proposal([])).toBeUndefined();
  });
});

describe('reasons', () => {
  it('give each harmonic its share of the noise, and say which is not worth its notch', () => {
    const rms = rmsOfAxes(forecast(model, chainOf(plan), 8000).asFlown, model.stepHz, noiseFromHz);
    const shares = orderShares(reported.report, rms);
    // A third and a quarter of the amplitude: a ninth and a sixteenth of the power.
    expect(shares.get(2)! / shares.get(1)!).toBeCloseTo(1 / 9, 2);
    const [first] = reasonsFor(chainOf({...plan, notchHarmonics: [1]}), reported.report, rms);
    expect(first).toMatch(/^One harmonic \(1×\): 1× carries \d+\u00a0% of the noise; 2× carries \d+\u00a0%/);
    const little = {
      ...reported.report,
      orders: reported.report.orders.map(({orders}) => ({
        orders: new Map(
          [...orders]
            .filter(([o]) => o < 3)
            .map(([o, a]) => [
              o,
              o === 2 ? (Object.fromEntries(axes.map((x) => [x, {...a![x], amplitude: 0.1}])) as typeof a) : a,
            ]),
        ),
      })),
    };
    expect(reasonsFor(chainOf({...plan, notchHarmonics: [1]}), little, rms)[0]).toMatch(
      /^One harmonic \(1×\) is enough: 2× carries 0\.\d+\u00a0% of the noise\.$/,
    );
    expect(reasonsFor(chainOf({...plan, movingNotches: 1}), reported.report, rms)[1]).toContain('such as 21');
  });
});

it('load is the loop budget’s own formula', () => {
  const board = {clockMhz: 168, outputs: 4};
  const controller = {
    ...plan,
    protocol: 'dshot300' as const,
    loopHz: 4000,
    poles: 14,
    arms: [0, 1, 2, 3],
    idlePercent: 5,
  };
  for (const notchHarmonics of [[], [1], [1, 2, 3]]) {
    const c = {...controller, notchHarmonics, movingNotches: 2};
    expect(budgetWith(c, sectionsPerAxis(chainOf(c), 4), board)).toEqual(budgetOf(c, board));
  }
});
