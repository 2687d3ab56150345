/** Fields that a flight controller lets not be set in some state: why, and what unlocks them. */
import {everyField, type FieldLock, type LockState} from '../link/operations';

interface LockWords {
  readonly why: string;
  /** What a person does, and what the order then sees. */
  readonly unlock: string;
  readonly until: string;
}
export const lockWords: Readonly<Record<LockState, LockWords>> = {
  powered: {why: 'locked while the battery is in', unlock: 'Take the battery off', until: 'until it is off'},
  armed: {
    why: 'locked while the craft is armed or motors turn',
    unlock: 'Let go of the motors and disarm',
    until: 'until they have stopped',
  },
  connected: {
    why: 'locked while a transmitter is connected',
    unlock: 'Switch the transmitter off',
    until: 'until it is off',
  },
};

/** Locks on any of these fields. */
export const locksOn = (fields: readonly string[], locks: readonly FieldLock[] | undefined): readonly FieldLock[] =>
  (locks ?? []).filter((lock) => lock.fields.some((field) => field === everyField || fields.includes(field)));

/**
 * What is said beside a field that is to be changed; empty where it can be set at any time. Nothing is said of now: a survey is
 * a moment ago. A craft is never armed while Bidex holds it, so of that lock nothing is said.
 */
export const lockNote = (field: string, locks: readonly FieldLock[] | undefined): string =>
  locksOn([field], locks)
    .filter((lock) => lock.while !== 'armed')
    .map(({while: state}) => `${lockWords[state].why}; the work order waits ${lockWords[state].until}`)
    .join('; ');
