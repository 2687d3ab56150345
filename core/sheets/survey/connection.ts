/** What the bench menu says: the road to the bench, how quick it is, and help where nothing answers. */
import {connectHelp, helpedBy, type ConnectEvidence, type ConnectHelp} from '../../link/connect-help';
import {portText, type ListedPort} from '../../link/bridge';
import type {Choice} from '../choice';
export {helpedBy};

export type RoadKind = 'simulated' | 'serial' | 'bridge';

export interface ConnectionNow {
  readonly chosen: RoadKind;
  readonly isConnected: boolean;
  /** The adapter says that nothing real turns. */
  readonly isStandIn: boolean;
  /** Whether this browser has a serial interface of its own. */
  readonly hasSerial: boolean;
  readonly roundTripsMs: readonly number[];
  readonly evidence: ConnectEvidence | undefined;
  /** What helped with this craft before; empty where nothing was noted. */
  readonly helped: string;
}

interface RoadChoice {
  readonly kind: RoadKind;
  readonly name: string;
  readonly text: string;
  /** Why it cannot be chosen; empty where it can. */
  readonly closed: string;
  readonly isChosen: boolean;
}

interface ConnectionSheet {
  readonly title: string;
  readonly roads: readonly RoadChoice[];
  /** What the connection was measured to take; empty while nothing was. */
  readonly roundTrip: string;
  readonly help: ConnectHelp | undefined;
  /** What helped before, in a sentence; empty where nothing was noted. */
  readonly helped: string;
}

/** A choice of the ports that a bridge lists, with the one that was chosen before where it is still there. */
export const portChoices = (ports: readonly ListedPort[]): Choice<string>[] =>
  ports.map((port) => ({label: portText(port), value: port.path}));

const roads: Readonly<Record<RoadKind, readonly [string, string]>> = {
  simulated: ['Simulated bench', 'Ships with Bidex. It behaves like hardware; nothing real turns or burns.'],
  serial: [
    'Serial port of this browser',
    'The flight controller or a single-wire adapter on USB. The browser asks once which port Bidex may use.',
  ],
  bridge: [
    'Bridge on this computer',
    'For browsers without a serial interface, and for adapters on the network: a program in a terminal passes the bytes on.',
  ],
};

export function connectionSheet(now: ConnectionNow): ConnectionSheet {
  const road = roads[now.chosen][0].toLowerCase();
  return {
    title: now.isConnected
      ? `Connected by the ${road}${now.isStandIn ? ', simulated' : '. Motors are real'}`
      : `Not connected. Chosen: ${road}`,
    roads: (Object.keys(roads) as RoadKind[]).map((kind) => ({
      ...{kind, name: roads[kind][0], text: roads[kind][1], isChosen: kind === now.chosen},
      closed:
        kind === 'serial' && !now.hasSerial
          ? 'This browser has none. Browsers of the Chromium family have one on a computer; or use the bridge.'
          : '',
    })),
    roundTrip: roundTripText(now.roundTripsMs),
    help: now.isConnected || !now.evidence ? undefined : connectHelp(now.evidence),
    helped: now.helped ? `With this craft it helped before: ${now.helped}.` : '',
  };
}

/** Fewer do not tell what one in a hundred takes. */
const enough = 20;

function roundTripText(trips: readonly number[]): string {
  if (trips.length < enough) return '';
  const sorted = [...trips].sort((a, b) => a - b);
  const at = (share: number) => sorted[Math.min(sorted.length - 1, Math.ceil(share * sorted.length) - 1)]!;
  return `Round trip ${msText(at(0.5))}, 99 of 100 within ${msText(at(0.99))}, over ${trips.length} requests.`;
}

const msText = (ms: number): string => `${ms < 10 ? ms.toFixed(1) : ms.toFixed(0)} ms`;
