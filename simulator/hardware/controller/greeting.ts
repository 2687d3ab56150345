/** What the stand-in says of itself when it is greeted. */
import {abilities, type Answer, type Road} from '@core/link/operations';

interface Greeted {
  readonly linkVersion: number;
  readonly standIn: boolean;
  readonly road: Road;
  readonly escs: readonly unknown[];
}

export function greeting(
  {linkVersion, standIn, road, escs}: Greeted,
  {lastHold, inLoader}: {readonly lastHold: number; readonly inLoader: boolean},
): Answer<'hello'> {
  const onAdapter = road === 'single-wire';
  return {
    link: linkVersion,
    adapter: onAdapter ? 'Simulated single-wire adapter' : 'Simulated bench',
    abilities: onAdapter
      ? ['esc', 'dialect', 'reports']
      : inLoader
        ? ['loader', 'reports']
        : abilities.filter((ability) => ability !== 'dialect'),
    standIn,
    outputs: onAdapter ? 1 : escs.length,
    startId: 'simulator',
    road,
    lastHold,
  };
}
