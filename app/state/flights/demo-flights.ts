/** Flights that ship with the demo; each was computed for its craft, and says so. */
import type {Flight} from '@core/flight/flight';

const demo = (id: string, craftId: string, label: string): Flight => ({id, craftId, label, isDemo: true, keptAt: 0});

export const demoFlights: readonly Flight[] = [
  demo('juniper-before', 'juniper', 'flight 11'),
  demo('juniper-after', 'juniper', 'flight 12'),
  demo('sorrel-poles', 'sorrel', 'flight 31'),
  demo('alder-bell', 'alder', 'flight 5'),
  demo('bramble-clean', 'bramble', 'flight 7'),
];
