/** What a run under load does to a proof that was taken before it. */
import {describe, expect, it} from 'vitest';
import {demoCraft} from '@simulator/testing/bench-harness';
import type {NewProof} from '../../proof/proof';
import {blankRecord, withProofs} from '../../route/craft-record';
import {groundsOf} from '../../route/proof-table';
import {standings} from '../../route/standings';
import {foundAsPlanned} from '../../testing/found-as-planned';
import {wholePlan} from '../../craft/whole-plan';
import type {MotorQuality, ReplyQuality} from '../../replies/reply-quality';
import {loadDisproof, replyProof} from './reply-proof';
import {isProven} from '../../proof/standing';

const craft = demoCraft('juniper');
const on = [0, 1, 2, 3].map((output) => ({output, serial: `S${output}`}));
const found = foundAsPlanned(craft);
const grounds = groundsOf('replies', {craft, plan: wholePlan(craft), found, replaced: {}});
const about = (at: number) => ({at, session: 's', cycles: 1, grounds});
const quality = (change: Partial<MotorQuality> = {}): ReplyQuality => ({
  ...{seconds: 10, load: 0.2, mostRpm: 40_000, timeS: 0.25, overTime: []},
  motors: on.map((_, i) => ({
    ...{asked: 40_000, lost: 0, implausible: 0, overThrottle: [], overSpeed: []},
    ...(i === 2 && change),
  })),
});
const standing = (proofs: readonly NewProof[]) => {
  const record = {...blankRecord(craft.id), found};
  return standings({craft, record: {...record, ...withProofs(record, proofs)}, now: {session: 's', cycles: 1}}).replies;
};

describe('a run under load', () => {
  const motors = on.map(() => ({asked: 10_000, lost: 0, rpm: 3000, noLoadRpm: 3100}));
  const proof = replyProof(
    [{throttle: 0.04, motors, alone: on.map(() => ({turned: true, others: []}))}],
    on,
    about(1),
  )!;

  it('that lost one reply takes the proof back, with its count; a later measurement gives it again', () => {
    const disproof = loadDisproof(quality({lost: 1}), on, about(2))!;
    expect(disproof).toMatchObject({kind: 'replies', holds: false, count: 160_000, on});
    expect(disproof.text).toMatch(/^Under load: Motor 3 lost 1 of 40,000 replies, 0.0025 %/);
    expect(isProven(standing([proof]))).toBe(true);
    expect(standing([proof, disproof])).toMatchObject({kind: 'failed'});
    expect(isProven(standing([proof, disproof, {...proof, at: 3}]))).toBe(true);
  });

  it('that told a speed which cannot be takes it back too', () =>
    expect(loadDisproof(quality({implausible: 2}), on, about(2))!.text).toBe(
      'Under load: Motor 3 reported 2 speeds that it cannot reach.',
    ));

  it('that lost none proves nothing by itself: how fast the motors turned was not judged', () =>
    expect(loadDisproof(quality(), on, about(2))).toBeUndefined());

  it('of which nobody knows on which ESCs is no record', () =>
    expect(loadDisproof(quality({lost: 5}), [], about(2))).toBeUndefined());
});
