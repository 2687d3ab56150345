/** How much faster than real time the simulated bench turns four motors through the script of a motor card. */
import {runScript} from '@core/spin/script/run-script';
import {cardScript, durationOf} from '@core/spin/script/script';
import {demoCraft, Harness} from '@simulator/testing/bench-harness';

/** Times real time, run after run: the first ones with code that is not compiled yet. */
export async function simulatorPace(runs: number): Promise<number[]> {
  const h = new Harness({craft: demoCraft('juniper')});
  await h.carryOut(await h.order({leaveSteps: ['prove-replies']}));
  const script = cardScript(0.06, 0.3);
  const paces: number[] = [];
  for (let i = 0; i < runs; i++) {
    const began = performance.now();
    const recording = await h.run(
      runScript(h.client, {
        ...{script, outputs: [0, 1, 2, 3], allOutputs: 4, poles: 14},
        ...{clock: h.time, cancel: {aborted: false}},
      }),
    );
    if (recording.endedBy) throw new Error(recording.endedBy.meaning);
    paces.push((1000 * durationOf(script)) / (performance.now() - began));
  }
  return paces;
}
