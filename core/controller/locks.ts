/** Fields that a flight controller lets not be set in some state: why, and what unlocks them. */
import {everyField, type FieldLock, type LockState} from '../link/operations';

export const lockWords: Readonly<Record<LockState, {readonly why: string; readonly unlock: string}>> = {
  powered: {why: 'locked while the battery is in', unlock: 'Take the battery off'},
  armed: {why: 'locked while the craft is armed or motors turn', unlock: 'Let go of the motors and disarm'},
  connected: {why: 'locked while a transmitter is connected', unlock: 'Switch the transmitter off'},
};

/** Locks on any of these fields. */
export const locksOn = (fields: readonly string[], locks: readonly FieldLock[] | undefined): readonly FieldLock[] =>
  (locks ?? []).filter((lock) => lock.fields.some((field) => field === everyField || fields.includes(field)));

/**
 * What is said beside a field that is to be changed; empty where it can be set at any time. The order takes care of it: a craft
 * is never armed while Bidex holds it, so that lock is told only while it is held.
 */
export const lockNote = (field: string, locks: readonly FieldLock[] | undefined): string =>
  locksOn([field], locks)
    .filter((lock) => lock.while !== 'armed' || lock.held)
    .map(({while: state, held}) => {
      const {why, unlock} = lockWords[state];
      return `${why}${held ? `, as now. ${unlock}: the work order waits for it` : ', which is not so now'}`;
    })
    .join('; ');
