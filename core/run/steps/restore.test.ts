/** Every craft of the demo: planned and carried out, then its first snapshot planned again and carried out. */
import {describe, expect, it} from 'vitest';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';
import {isLayoutRevision} from '../../settings/definitions';
import {compareSides, restoreAsPlan, sideOfFound, sideOfSnapshot, snapshotOfFound} from '../../snapshot/snapshot';

const surveyOf = (h: Harness) => (h.bench.road === 'controller' ? h.survey() : h.surveyRound());

describe('what a craft held before its order', () => {
  it.each(['juniper', 'sorrel', 'alder', 'bramble'])(
    '%s: comes back through the plan, on the new firmware',
    async (id) => {
      const craft = demoCraft(id);
      const h = new Harness({craft});
      const before = await surveyOf(h);
      // Foreign firmware has no settings of ours: its ESC stays out of this.
      const leave = before.escs.filter((e) => !e.settings || !e.hardware).map((e) => e.output);
      const at = '2026-11-23T12:00:00Z';
      const snapshot = snapshotOfFound(before, {id: 's', craft: craft.name, name: 'before', at});
      const first = await h.order({found: before, leave, leaveSteps: ['prove-replies']});
      expect((await h.carryOut(first)).kind).toBe('finished');

      const after = await surveyOf(h);
      const layout = after.escs.find((e) => e.identity)!.identity!.layoutRevision;
      if (!isLayoutRevision(layout)) throw new Error(`layout ${layout}`);
      const {parameters} = restoreAsPlan(snapshot, layout, craft);
      const old = {...craft, plan: {...craft.plan, parameters: {...craft.plan.parameters, ...parameters}}};
      const order = await h.order({craft: old, found: after, id: 'restore', leave, leaveSteps: ['prove-replies']});
      expect((await h.carryOut(order)).kind).toBe('finished');

      const lines = compareSides(sideOfSnapshot(snapshot), sideOfFound(await surveyOf(h)), craft.arms.length);
      const differing = lines.filter((l) => l.motors.some((m, o) => m.differs && !leave.includes(o)));
      expect(differing.map((l) => l.name)).toEqual([]);
    },
  );
});
