/** A flight of one craft: kept in this browser, or shipped with the demo for the craft it was computed for. */
import type {ControllerConfig} from '@core/controller/plan';
import type {Mapping} from '@core/flight/mapping';
import type {Noted} from '@core/flight/noted';

export interface Flight {
  readonly id: string;
  readonly craftId: string;
  /** Goes to the sign-off sheet. */
  readonly label: string;
  readonly isDemo: boolean;
  /** When it was kept, epoch ms; 0 for one of the demo. */
  readonly keptAt: number;
  /** What had been read from the controller when it was kept. */
  readonly config?: ControllerConfig | undefined;
  readonly mapping?: Mapping | undefined;
  readonly notes?: string | undefined;
  /** What a person measured on it. */
  readonly noted?: Noted | undefined;
}

const demo = (id: string, craftId: string, label: string): Flight => ({id, craftId, label, isDemo: true, keptAt: 0});

/** Flights that ship with the demo; each was computed for its craft, and says so. */
export const demoFlights: readonly Flight[] = [
  demo('juniper-before', 'juniper', 'flight 11'),
  demo('juniper-after', 'juniper', 'flight 12'),
  demo('sorrel-poles', 'sorrel', 'flight 31'),
  demo('alder-bell', 'alder', 'flight 5'),
  demo('bramble-clean', 'bramble', 'flight 7'),
];
