/** Everything that a sheet may look at, put together once per change: what the plan asks, what was found, proven and is now. */
import type {Board, Release} from '../firmware/releases';
import {findDifferences, type Differences} from '../compare/difference';
import type {Plan} from '../craft/craft';
import {wholePlan} from '../craft/whole-plan';
import {standings, type RouteQuestion, type Standings} from '../route/standings';
import {routeStates, type StationState} from '../route/stations';
import {type StationName} from '../words/station-names';

/** How the bench stands now. */
export interface BenchNow {
  readonly isConnected: boolean;
  readonly isPowered: boolean;
  /** Something is read, written or held. */
  readonly isOccupied: boolean;
  /** The cable is in a single-wire adapter. */
  readonly isOnAdapter: boolean;
  /** How often the battery was connected since the flight controller started. */
  readonly cycles: number | undefined;
  /** A person has said that the propellers are off, and nothing has happened since that asks it again. */
  readonly isPropsOff: boolean;
  /** A motor that was let go still turns. */
  readonly isRunningOut: boolean;
}

/** A craft and what its record says, judged; the bench of now is not asked. */
export interface JudgedCraft extends RouteQuestion {
  /** The plan of both sides, ESCs and flight controller. */
  readonly plan: Plan;
  /** Plan against found; undefined before a survey. */
  readonly differences: Differences | undefined;
  readonly standings: Standings;
  readonly states: Readonly<Record<StationName, StationState>>;
  /** What the catalogue knows of the planned ESC board. */
  readonly board: Board | undefined;
  /** What the catalogue says of published ESC firmware; undefined until it was read. */
  readonly releases?: readonly Release[] | undefined;
}

export interface CraftQuestion extends JudgedCraft {
  readonly bench: BenchNow;
}

/** What is not computed from the rest. */
export type CraftSources = RouteQuestion & Pick<JudgedCraft, 'board' | 'releases'>;

export function judgedCraft(sources: CraftSources): JudgedCraft {
  const {craft, record} = sources;
  const plan = wholePlan(craft);
  const differences = record.found && findDifferences(plan, record.found);
  const all = standings(sources);
  return {...sources, plan, differences, standings: all, states: routeStates(sources, all, differences)};
}
