/**
 * The idle that measured starts ask for: one number, wherever it is shown. Starts are known from motors that were held one by
 * one and from a motor card; of both the later start counts, because the idle has to lie above every start there was.
 */
import type {MotorReport} from '../../motion/report';
import {crossedReply, type AloneState} from '../../replies/replies';
import {idleFromCard} from './idle-from-card';
import {idleFromStarts, type Sighting} from '../sighting/sighting';

export interface SuggestedIdle {
  /** Motor that starts last, counted from 0. */
  readonly motor: number;
  /** Where it starts, µs: a bound of nineteen in twenty starts where `isBound`, else the highest that was seen. */
  readonly startUs: number;
  readonly isBound: boolean;
  /** With the margin, percent in steps of 0.1, and as a pulse, µs. */
  readonly percent: number;
  readonly pulseUs: number;
  readonly from: 'holds' | 'motor card';
  /** When that was measured, epoch ms. */
  readonly at: number;
}

interface IdleQuestion {
  readonly sightings: readonly Sighting[];
  readonly motors: number;
  readonly card: IdleCard | undefined;
}

/** The newest motor card of every motor of this craft. */
interface IdleCard {
  readonly motors: readonly MotorReport[];
  readonly at: number;
  /** What replies said while each motor was driven alone: without it, it is not known whose starts these are. */
  readonly alone: readonly AloneState[] | undefined;
}

/** Undefined while no source knows the start of every motor. */
export function suggestedIdle({sightings, motors, card}: IdleQuestion): SuggestedIdle | undefined {
  const seen = idleFromStarts(sightings, motors);
  const told = isOfEach(card, motors) ? idleFromCard(card.motors) : undefined;
  const candidates: SuggestedIdle[] = [];
  if (seen)
    candidates.push({
      ...{motor: seen.motor, startUs: seen.highestUs, isBound: seen.isBound, percent: seen.percent},
      ...{pulseUs: seen.pulseUs, from: 'holds', at: sightings.reduce((newest, s) => Math.max(newest, s.at), 0)},
    });
  if (told)
    candidates.push({
      ...{motor: told.motor, startUs: 1000 + 10 * told.atMostPercent, isBound: true, percent: told.percent},
      ...{pulseUs: 1000 + 10 * told.percent, from: 'motor card', at: card!.at},
    });
  return candidates.sort((a, b) => b.percent - a.percent)[0];
}

/** A card with one line for each motor, from its own replies. */
const isOfEach = (card: IdleCard | undefined, motors: number): card is IdleCard =>
  card?.motors.length === motors && crossedReply(card.alone) === undefined;
