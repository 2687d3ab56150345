/** What is still to be seen or measured on a craft before it is proven, in the order of the route. */
import {openStations, type StationState} from './stations';
import {stationNames, type StationName} from '../words/station-names';

interface StillOpen {
  readonly station: StationName;
  /** What a person does there, in a few words. */
  readonly todo: string;
  /** How far it is; empty where nothing is known. */
  readonly note: string;
}

const todos: Partial<Record<StationName, string>> = {
  craft: 'Correct or confirm what the starting plan guessed',
  survey: 'Read who is on the bench and what it holds',
  firmware: 'Prove the firmware, page by page',
  parameters: 'Read every setting back',
  spin: 'See every motor turn, on its arm and the right way, and measure them',
  signal: 'Hold, and count the lost replies',
  arming: 'Show how the board sits, move the sticks, and try the fail-safe',
};

/** Stations that sign-off waits for. What is only predicted is not among them. */
export function stillOpen(states: Record<StationName, StationState>): StillOpen[] {
  const open = openStations(states);
  return stationNames.flatMap((station): StillOpen[] => {
    const todo = todos[station];
    return todo !== undefined && open.includes(station) ? [{station, todo, note: states[station].note}] : [];
  });
}
