/** Faults of a motor told apart by what a motor card shows, on simulated motors that have them: cards fitted from bursts. */
import {describe, expect, it} from 'vitest';
import {Harness} from '@simulator/testing/bench-harness';
import type {MotorConstants} from '../../motor/motor';
import {reportOn, type MotionReport} from '../../motion/report';
import {causesOf} from '../verdict/causes';
import {runScript} from '../script/run-script';
import {scriptOf, usualChoice} from '../script/script-choices';

/** Motor 2 of Juniper with something changed, the others as they are; after the work order, so that replies come. */
async function cardWith(change: (m: MotorConstants) => MotorConstants): Promise<MotionReport> {
  const h = new Harness({
    setup: (first) => ({...first, escs: first.escs.map((e, i) => (i === 1 ? {...e, motor: change(e.motor)} : e))}),
  });
  const order = await h.order();
  await h.carryOut({...order, steps: order.steps.filter((s) => s.kind !== 'prove-replies')});
  await h.run(h.client.hello());
  const script = scriptOf(usualChoice, 0.04, 0.3);
  const outputs = [0, 1, 2, 3];
  const asked = {script, outputs, allOutputs: 4, poles: 14, clock: h.time, cancel: {aborted: false}};
  const {trace} = await h.run(runScript(h.client, asked));
  return reportOn(trace, {poles: 14});
}
const settings = [0, 1, 2, 3].map(() => ({}));
const said = (report: MotionReport) =>
  report.findings
    .filter((f) => f.motor === 1)
    .flatMap((f) => causesOf(f, {motors: report.motors, settings}).map((c) => `${f.kind}: ${c.text}`));

describe('a motor card tells apart', () => {
  it.each([
    ['a weak magnet', (m) => ({...m, kv: m.kv * 1.08}), 'odd-kv: A weak motor'],
    ['a bad joint', (m) => ({...m, resistanceOhm: m.resistanceOhm * 1.7}), 'odd-resistance: A bad joint'],
    ['a heavy bell', (m) => ({...m, inertia: m.inertia * 1.5}), 'odd-inertia: Its bell is heavier'],
    ['a bearing that rubs', (m) => ({...m, friction: m.friction * 4}), 'odd-friction: A bearing or a magnet rubs'],
    [
      'another winding',
      (m) => ({...m, kv: m.kv * 1.2, resistanceOhm: m.resistanceOhm / 1.44}),
      'odd-kv: Another winding',
    ],
  ] as [string, (m: MotorConstants) => MotorConstants, string][])('%s', async (_, change, text) => {
    const told = said(await cardWith(change));
    expect(
      told.some((t) => t.startsWith(text)),
      told.join(' | '),
    ).toBe(true);
  });

  it('and finds none of it in motors that are as they were made', async () => {
    const {findings} = await cardWith((m) => m);
    expect(findings).toEqual([]);
  });
});
