/** What is said of protocol and loop: not read, as planned, with faults, another chip or clock looked at, eight motors. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {placeOf} from '../../controller/signal-pair';
import {emptyQuestion, questionOf, withEightMotors} from '../../testing/question-of';
import {foundWith, planning} from '../../testing/with-config';
import type {JudgedCraft} from '../craft-question';
import {budgetSheet, type BudgetNow} from './signal-budget';

const of = (q: JudgedCraft, now: Partial<BudgetNow> = {}) => {
  const {controller} = q.record.found ?? {};
  const place = controller && placeOf(controller, q.craft.arms.length, undefined);
  return budgetSheet(q, {place, chip: undefined, otherChip: '', otherMhz: 0, ...now});
};
const cells = (q: JudgedCraft, now: Partial<BudgetNow> = {}) => of(q, now).pairs!.rows.flatMap((row) => row.cells);

describe('before the flight controller was read', () => {
  it('the plan can be made, and nothing is judged', () => {
    const {form, findings, loops, pairs} = of(emptyQuestion(juniper));
    expect([findings, loops, pairs]).toEqual([[], undefined, undefined]);
    expect(form.rates.map((r) => r.value)).toContain(juniper.plan.controller.loopHz);
  });
});

describe('one loop to scale', () => {
  const loops = of(questionOf(juniper)).loops!;
  it('has found and plan on one scale, each with what the wire carries and what is computed', () => {
    expect(loops.loops.map((l) => [l.title, l.bars.map((b) => b.name)])).toEqual([
      ['found', ['wire', 'task']],
      ['plan', ['wire', 'task']],
    ]);
    const [wire] = loops.loops[1]!.bars;
    // Command, pause and reply of DShot300, its reply at 5/4 of the rate (facts of the trade): 16 bits of 3.33 µs.
    expect(wire!.parts.map((p) => p.name)).toEqual(['command', 'pause', 'reply']);
    expect(parseFloat(wire!.parts[0]!.us)).toBeCloseTo(53.3, 1);
  });
  it('draws nothing beyond its width, ticks ascending', () => {
    for (const {end, bars} of loops.loops) {
      expect(end).toBeLessThanOrEqual(100);
      for (const {parts} of bars) expect(parts.reduce((sum, p) => sum + p.width, 0)).toBeLessThanOrEqual(100);
    }
    expect(loops.ticks.map((t) => t.us)).toEqual([...loops.ticks.map((t) => t.us)].sort((a, b) => a - b));
  });
  it('tells an exchange that does not fit, by how much', () => {
    const fast = planning(juniper, {protocol: 'dshot150', loopHz: 8000});
    const [wire] = of(questionOf(fast)).loops!.loops[1]!.bars;
    expect(wire!.over).toMatch(/^\d+\.\d µs too long$/);
  });
  it('names a pulse as what it is', () => {
    const pulses = questionOf(juniper, {record: {found: foundWith(juniper, {protocol: 'analog', replies: false})}});
    expect(of(pulses).loops!.loops[0]!.bars[0]!.parts.map((p) => p.name)).toEqual(['longest pulse']);
  });
});

describe('every pair', () => {
  it('has one that is planned; choosing another plans protocol, replies, loop and the counted poles', () => {
    const all = cells(questionOf(juniper));
    expect(all.filter((c) => c.isPlanned)).toHaveLength(1);
    for (const {change} of all)
      expect(Object.keys(change).sort()).toEqual(expect.arrayContaining(['loopHz', 'protocol', 'replies']));
    expect(all.find((c) => c.change.replies)!.change.poles).toBe(juniper.motor.poles);
  });
  it('beyond the gyro is impossible, and the cell says why', () => {
    const slow = questionOf(juniper, {record: {found: foundWith(juniper, {gyroHz: 4000})}});
    const fast = cells(slow).filter((c) => c.loopHz === 8000);
    expect(fast.every((c) => c.verdict === 'impossible' && c.figure === 'gyro' && c.mark === '✕')).toBe(true);
  });
  it('with another chip looked at, what that one does not hear is impossible', () => {
    const q = questionOf(juniper);
    const {chips, isOther} = of(q).pairs!;
    const [slowest] = chips
      .slice(1)
      .sort((a, b) => parseInt(a.label.split('DShot')[1]!) - parseInt(b.label.split('DShot')[1]!));
    expect(isOther).toBe(false);
    const other = {otherChip: slowest!.value};
    expect(of(q, other).pairs!.isOther).toBe(true);
    const heard = (now: Partial<BudgetNow>) => cells(q, now).filter((c) => c.figure === 'ESC').length;
    expect(heard(other)).toBeGreaterThan(heard({}));
  });
  it('with a slower clock looked at takes more of the loop; the plan itself stays', () => {
    const q = questionOf(juniper);
    const slowest = Math.min(
      ...of(q)
        .pairs!.clocks.slice(1)
        .map((c) => c.value),
    );
    const overloaded = (now: Partial<BudgetNow>) => cells(q, now).filter((c) => c.verdict !== 'feasible').length;
    expect(overloaded({otherMhz: slowest})).toBeGreaterThan(overloaded({}));
    expect(cells(q, {otherMhz: slowest}).filter((c) => c.isPlanned)).toHaveLength(1);
  });
  it('those to prefer have replies and are feasible, with eight motors too', () => {
    for (const craft of [juniper, withEightMotors(juniper)]) {
      const {preferred, preferredWhy} = of(questionOf(craft)).pairs!;
      expect(preferred.length).toBeGreaterThan(0);
      expect(preferred.every((p) => p.change.replies && p.name.includes('with replies'))).toBe(true);
      expect(preferredWhy).toMatch(/^With replies, since filters follow them\./);
    }
  });
});

describe('extended replies', () => {
  const asked = (found: boolean | undefined, planned?: boolean) =>
    of(
      questionOf(planning(juniper, planned === undefined ? {} : {extendedReplies: planned}), {
        record: {found: foundWith(juniper, {extendedReplies: found})},
      }),
    ).form.extended;
  it('are asked only where the firmware knows them, as planned or as found', () =>
    expect([asked(undefined), asked(true), asked(true, false)]).toEqual([undefined, true, false]));
});
