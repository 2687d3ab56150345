/** Channels by four moves, ends by sweeps, frames by their times: on sticks made here, with noise, mixes and gaps. */
import {describe, expect, it} from 'vitest';
import {uniform} from '../testing/known-flight';
import {findChannels, sticks, type Frames, type Stick} from './channels';
import {adviseEnds, channelEnds} from './ends';
import {frameTiming} from './frame-rate';

const random = uniform(31);
const jitter = () => Math.round((random() - 0.5) * 4);

/** Frames while one channel makes a full move; `mix` of it goes into another. */
function move(channel: number, {by = 500, mix = 0, into = 7, channels = 8} = {}): Frames {
  return Array.from({length: 100}, (_, i) => {
    const share = Math.sin((Math.PI * i) / 99);
    const throttleFirst = channel === 3 ? 1000 : 1500;
    return Array.from({length: channels}, (_, c) => {
      const rest = c + 1 === channel ? throttleFirst : 1500;
      const along = c + 1 === channel ? by * share : c + 1 === into ? mix * by * share : 0;
      return rest + along + jitter();
    });
  });
}
const moves = (order: Readonly<Record<Stick, number>>): Record<Stick, Frames> =>
  Object.fromEntries(sticks.map((s) => [s, move(order[s], {by: s === 'throttle' ? 990 : 500})])) as Record<
    Stick,
    Frames
  >;

describe('channels', () => {
  it('are found in any order, all 24 of the first four and some beyond', () => {
    const all = [1, 2, 3, 4];
    for (const roll of all)
      for (const pitch of all)
        for (const throttle of all)
          for (const yaw of all) {
            if (new Set([roll, pitch, throttle, yaw]).size < 4) continue;
            const order = {roll, pitch, throttle, yaw};
            expect(findChannels(moves(order))).toMatchObject({kind: 'found', channel: order, reversed: []});
          }
    expect(findChannels(moves({roll: 6, pitch: 2, throttle: 8, yaw: 5}))).toMatchObject({channel: {roll: 6, yaw: 5}});
  });

  it('a stick that goes the other way is told, and a mix does not mislead', () => {
    const order = {roll: 2, pitch: 3, throttle: 1, yaw: 4};
    const found = findChannels({
      ...moves(order),
      pitch: move(3, {by: -480}),
      yaw: move(4, {by: 500, mix: 0.3, into: 2}),
    });
    expect(found).toMatchObject({kind: 'found', channel: order, reversed: ['pitch']});
    expect(found.kind === 'found' && found.clarity).toBeLessThan(4);
  });

  it('says which stick to move again, and why', () => {
    const good = moves({roll: 1, pitch: 2, throttle: 3, yaw: 4});
    const why = (over: Partial<Record<Stick, Frames>>) => {
      const found = findChannels({...good, ...over});
      return found.kind === 'unclear' ? `${found.stick}: ${found.why}` : 'found';
    };
    expect(why({yaw: move(4, {by: 90})})).toMatch(/^yaw: No channel moved by more than \d+ µs: move the yaw stick/);
    expect(why({pitch: move(2, {mix: 0.8})})).toMatch(/^pitch: Channels 2 and 7 moved together/);
    expect(why({yaw: move(1)})).toMatch(/^yaw: Channel 1 moved here, and it is roll already/);
    expect(why({roll: []})).toMatch(/^roll: No channel moved/);
  });
});

describe('ends', () => {
  const sweep = (low: number, high: number, sweeps: number) =>
    Array.from({length: 60 * sweeps + 1}, (_, i) =>
      Math.round((low + high) / 2 - ((high - low) / 2) * Math.cos((Math.PI * i) / 60)),
    );
  const rest = (centre: number, noise: number) =>
    Array.from({length: 100}, (_, i) => centre + (i % 7 === 0 ? noise : 0));

  it('1012 and 1990 do not reach, and are set on the transmitter, each by how much', () => {
    const ends = channelEnds(sweep(1012, 1990, 6), rest(1504, 0));
    expect(ends).toMatchObject({low: 1012, high: 1990, centre: 1504, sweeps: 6, noiseUs: 0, restFrames: 100});
    expect(adviseEnds(ends)).toMatchObject({isRight: false, further: []});
    expect(adviseEnds(ends).onTransmitter).toEqual([
      'Set its low end to 1000 µs: it is 1012 µs, 12 too much.',
      'Set its high end to 2000 µs: it is 1990 µs, 10 too little.',
      'Set its centre to 1500 µs: it is 1504 µs, 4 too much.',
    ]);
  });

  it('987 and 2011 reach further, which is right, and said (trade fact: some fly them as they are)', () => {
    expect(adviseEnds(channelEnds(sweep(987, 2011, 6), rest(1500, 0)))).toMatchObject({
      ...{isRight: true, onTransmitter: []},
      further: [
        'Its low end reaches further by 13 µs: that is right.',
        'Its high end reaches further by 11 µs: that is right.',
      ],
    });
    // One end alone may come too short.
    expect(adviseEnds(channelEnds(sweep(987, 1990, 6), rest(1500, 0))).isRight).toBe(false);
  });

  it('a trembling centre gets a dead band of 2 µs (trade fact), more trembling a wider one, a quiet one none', () => {
    const bandOf = (noise: number) => adviseEnds(channelEnds(sweep(1000, 2000, 4), rest(1500, noise))).deadBandUs;
    expect([0, 1, 2, 3, 6].map(bandOf)).toEqual([0, 2, 2, 5, 9]);
  });

  it.each([0, 0.5, 1.4, 2])(
    'a receiver that trembles by %s µs (standard deviation): ends as they are, in 200 draws',
    (spread) => {
      for (let draw = 0; draw < 200; draw++) {
        const [low, high] = draw % 2 ? [1000, 2011] : [1013, 1989];
        const trembling = () => {
          // The sum of twelve even draws is nearly normal, with a standard deviation of one.
          let sum = -6;
          for (let i = 0; i < 12; i++) sum += random();
          return Math.round(spread * sum);
        };
        // 45 frames a second, four sweeps of 0.7 s each way against the stops.
        const swept = Array.from({length: 252}, (_, i) => {
          const at = Math.max(-1, Math.min(1, 1.3 * Math.sin((Math.PI * (i + random())) / 31.5)));
          return (low + high) / 2 + ((high - low) / 2) * at + trembling();
        });
        const still = Array.from({length: 60}, () => 1500 + trembling());
        const ends = channelEnds(swept, still);
        expect(Math.abs(ends.low - low)).toBeLessThanOrEqual(2);
        expect(Math.abs(ends.high - high)).toBeLessThanOrEqual(2);
        expect(adviseEnds(ends).isRight).toBe(draw % 2 === 1);
      }
    },
  );

  it('1000, 1500 and 2000 within 2 µs are right', () => {
    expect(adviseEnds(channelEnds(sweep(1001, 1999, 4), rest(1500, 1)))).toEqual({
      ...{isRight: true, further: [], onTransmitter: [], deadBandUs: 2, missing: undefined},
    });
  });

  it('too few sweeps or no rest give no verdict, and say what is missing', () => {
    expect(adviseEnds(channelEnds(sweep(987, 2011, 1), rest(1500, 0)))).toMatchObject({
      ...{isRight: false, onTransmitter: [], missing: 'Sweep the stick from end to end 2 more times.'},
    });
    expect(adviseEnds(channelEnds(sweep(1000, 2000, 4), [1500])).missing).toBe('Let the stick go for a second.');
  });
});

describe('frames', () => {
  it('every 9 ms with some lost: rate, longest gap, how many did not come', () => {
    let t = 0;
    const times: number[] = [];
    for (let i = 0; i < 500; i++) {
      t += 9 + (random() - 0.5) * 0.8;
      if (i % 100 !== 50 && i !== 251) times.push(t);
    }
    const timing = frameTiming(times)!;
    expect(timing.rateHz).toBeCloseTo(1000 / 9, 0);
    expect([timing.missing, timing.expected]).toEqual([6, 499]);
    expect(timing.longestMs).toBeGreaterThan(26);
  });

  it('too few, or all at once, tell no rate', () => {
    expect(frameTiming([1, 2, 3])).toBeUndefined();
    expect(frameTiming(Array.from({length: 30}, () => 5))).toBeUndefined();
  });
});
