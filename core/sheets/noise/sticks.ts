/** What a move of the stick takes to the control loop, as Noise shows it beside the delay of the filters. */
import {planOver} from '../../controller/plan';
import {smoothingIn, stickDelays} from '../../controller/stick-delay';
import type {Standing} from '../../proof/standing';
import type {JudgedCraft} from '../craft-question';
import {heldAndPlanned} from '../held-and-planned';

export interface SticksSheet {
  readonly parts: readonly {readonly part: string; readonly text: string; readonly why: string}[];
  /** Together; what is known of it where a part is not. */
  readonly total: string;
}

const ms = (delay: number | undefined): string => (delay === undefined ? '–' : `${delay.toFixed(2)} ms`);

/** As planned, with what is found where nothing is planned; frames as they were counted last. */
export function sticksSheet(q: JudgedCraft): SticksSheet {
  const held = heldAndPlanned(q);
  const {loopHz} = planOver(q.plan.controller, q.record.found?.controller?.config);
  const parts = stickDelays({
    ...{frameHz: frameHzOf(q.standings.receiver), loopHz},
    smoothing: held && smoothingIn(held.planned),
  });
  const known = parts.reduce((sum, {delayMs}) => sum + (delayMs ?? 0), 0);
  const isWhole = parts.every(({delayMs}) => delayMs !== undefined);
  return {
    parts: parts.map(({part, delayMs, why}) => ({part, text: ms(delayMs), why})),
    total: isWhole ? ms(known) : `≥ ${ms(known)}`,
  };
}

/** As counted on this receiver: what was counted before it was changed is not of now. */
const frameHzOf = (standing: Standing): number | undefined =>
  standing.kind === 'none' || standing.kind === 'void' ? undefined : standing.proof.frameHz;
