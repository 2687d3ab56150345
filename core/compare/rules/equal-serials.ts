/** Chips that were copied with their serial number: what tells ESCs apart does not tell these. */
import {equalSerials} from '../../bench/equal-serials';
import type {Found} from '../../bench/found';
import {motorList} from '../../words/motor-list';
import type {Finding} from './rule';

/** What is told of them before anything is written. */
export const equalSerialFindings = (found: Pick<Found, 'escs'>, motors: number): Finding[] =>
  equalSerials(found).map((outputs) => ({
    id: `equal-serials-${outputs.join('-')}`,
    severity: 'warn',
    keys: [],
    place: motorList(outputs, motors),
    meaning:
      'These ESCs carry one and the same serial number: their chips were copied. Bidex distinguishes them by their output ' +
      'only and would not notice if their plugs were swapped.',
    remedy: 'Leave their plugs where they are until the order is done.',
  }));
