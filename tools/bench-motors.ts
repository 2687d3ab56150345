/** Motor cards of drawn motors, measured over the bench link as the application does it: how far off, and whether bounds hold. */
import type {Answer} from '@core/motion/answer';
import type {KnownTiming} from '@core/motion/motor-card';
import {reportOn} from '@core/motion/report';
import {isEstimate} from '@core/motion/time-constants';
import {estimateInductance, estimateResistance, readStatorSize} from '@core/motor/estimates';
import {runScript} from '@core/spin/script/run-script';
import {cardScript} from '@core/spin/script/script';
import {motorClasses, type DrawnMotor} from '@simulator/benches/draw-motor';
import {Harness} from '@simulator/testing/bench-harness';
import {drawnBench} from '@simulator/testing/drawn-bench';
import {median} from '@core/numbers/median';

interface CardFigures {
  readonly motors: number;
  readonly told: number;
  /** Median of the relative error. */
  readonly medianError: number;
  readonly worstError: number;
  /** Share of the truths within the stated bounds. */
  readonly within: number;
}

const compared = ['kv', 'resistanceOhm', 'inertia'] as const;
type ComparedConstant = (typeof compared)[number];

/** Advance of the drawn ESCs, electrical degrees. */
const timing = 15;
/** Nobody measured the inductance: it is taken from the label. */
function timingOf({size, kv, poles}: DrawnMotor): KnownTiming {
  const stator = readStatorSize(size)!;
  const {value: inductanceH} = estimateInductance(stator, estimateResistance(stator, kv).value);
  return {advance: timing, inductanceH, poles};
}

async function cardsOf(round: number): Promise<{motor: DrawnMotor; answers: Record<ComparedConstant, Answer>}[]> {
  const of = motorClasses[round % motorClasses.length]!;
  const {setup, motors} = drawnBench(of, 7000 + round, {timing});
  const h = new Harness({setup: () => setup});
  const recording = await h.run(
    runScript(h.client, {
      script: cardScript(0.1, 0.35),
      outputs: [0, 1, 2, 3],
      allOutputs: 4,
      poles: of.poles,
      clock: h.time,
      cancel: {aborted: false},
    }),
  );
  if (recording.endedBy) throw new Error(recording.endedBy.meaning);
  return reportOn(recording.trace, {poles: of.poles, timings: motors.map(timingOf)}).motors.map((answers, m) => ({
    motor: motors[m]!,
    answers,
  }));
}

/** `motors` is rounded up to whole benches of four. */
export async function motorCardFigures(motors: number): Promise<Record<ComparedConstant, CardFigures>> {
  const cards: Awaited<ReturnType<typeof cardsOf>> = [];
  for (let round = 0; round < Math.ceil(motors / 4); round++) cards.push(...(await cardsOf(round)));
  const figures = compared.map((key) => {
    const told = cards.flatMap(({motor, answers}) => {
      const answer = answers[key];
      const truth = motor[key];
      return isEstimate(answer)
        ? [{error: answer.value / truth - 1, inside: answer.low <= truth && truth <= answer.high}]
        : [];
    });
    const errors = told.map((t) => Math.abs(t.error));
    return [
      key,
      {
        motors: cards.length,
        told: told.length,
        medianError: median(errors),
        worstError: Math.max(...errors),
        within: told.filter((t) => t.inside).length / told.length,
      },
    ];
  });
  return Object.fromEntries(figures) as Record<ComparedConstant, CardFigures>;
}
