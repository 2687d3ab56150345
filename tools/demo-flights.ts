/** The flights that ship with the demo, flown by the simulated craft. The same seeds give the same bytes. */
import type {WireConfig} from '@core/link/operations';
import {withPlumb} from '@simulator/firmware/plumb';
import {flightCsv} from '@simulator/flights/flight-csv';
import {flyBench} from '@simulator/flights/fly-bench';
import type {BenchSetup} from '@simulator/hardware/bench-setup';
import {Harness, demoCraft} from '@simulator/testing/bench-harness';

interface DemoFlight {
  readonly id: string;
  readonly csv: string;
}

interface Wish {
  readonly id: string;
  readonly craft: string;
  readonly seed: number;
  /** What the pilot would write on it. */
  readonly note: string;
  /** Whether the craft's planned work was carried out before. */
  readonly planned?: boolean;
  readonly config?: Partial<WireConfig>;
}

/** Long enough for two sweeps, some cuts and a punch; a log of two minutes would only be larger, s. */
const seconds = 20;
const replies = {replies: true, protocol: 'dshot300', loopHz: 4000} as const;

const wishes: readonly Wish[] = [
  {
    id: 'juniper-before',
    craft: 'juniper',
    seed: 1107,
    note: 'Juniper, flight 11: replies on, motor-speed notches off, ESCs as they were found',
    config: replies,
  },
  {
    id: 'juniper-after',
    craft: 'juniper',
    seed: 1208,
    note: 'Juniper, flight 12: after the planned work order',
    planned: true,
  },
  {
    id: 'sorrel-poles',
    craft: 'sorrel',
    seed: 310,
    note: 'Sorrel, flight 31: notches on 1x, pole count left at 14',
    config: {...replies, loopHz: 2000, notchHarmonics: [1]},
  },
  {
    id: 'alder-bell',
    craft: 'alder',
    seed: 52,
    note: 'Alder, flight 5: on DShot150 with replies',
    config: {...replies, protocol: 'dshot150', loopHz: 2000},
  },
  {
    id: 'bramble-clean',
    craft: 'bramble',
    seed: 77,
    note: 'Bramble, flight 7',
    config: {...replies, notchHarmonics: [1, 2], gyroLowPassHz: 300, movingNotches: 0},
  },
];

export async function demoFlights(): Promise<DemoFlight[]> {
  const flown: DemoFlight[] = [];
  for (const wish of wishes) flown.push({id: wish.id, csv: await flightOf(wish)});
  return flown;
}

/** Replies and notches that follow motors came with Plumb 2.2: what is logged of them was flown on it. */
function onPlumb22(first: BenchSetup): BenchSetup {
  const {identity, saved} = first.controller;
  return {...first, controller: {...withPlumb(identity.board, '2.2', identity), saved}};
}

async function flightOf({craft, seed, note, planned, config}: Wish): Promise<string> {
  const h = new Harness({craft: demoCraft(craft), setup: onPlumb22});
  if (planned) await h.carryOut(await h.order());
  const flown = flyBench(h.bench, {craft, seed, seconds, ...(config ? {config} : {})});
  if (!flown) throw new Error(`${craft} cannot take off`);
  const notes = [`Computed for the Bidex demo from the simulator's physics, seed ${seed}`, note];
  return flightCsv(flown.columns, notes, flown.config);
}
