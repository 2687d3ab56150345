/** What the bench menu says: the road to the bench, how quick it is, and help where nothing answers. */
import {connectHelp, helpedBy, type ConnectEvidence, type ConnectHelp} from '../../link/connect-help';
import {portText, type ListedPort} from '../../link/bridge';
import {plugging} from '../../link/plugging';
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
  /** The ports as the bridge listed them, the newest list last. */
  readonly lists: readonly (readonly ListedPort[])[];
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
  /** What the last two lists of ports tell of the one that was plugged in or out. */
  readonly plugged: string;
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
  const plugged = now.chosen === 'bridge' ? pluggedText(now.lists) : undefined;
  // A port that does not come is why nothing else could be tried.
  const evidence = plugged?.isMissing ? noPort : now.evidence;
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
    help: now.isConnected || !evidence ? undefined : connectHelp(evidence),
    plugged: plugged?.text ?? '',
    helped: now.helped ? `With this craft it helped before: ${now.helped}.` : '',
  };
}

const noPort: ConnectEvidence = {code: 'port-missing', bytes: 0, frames: 0};

/** Undefined before the first list. */
function pluggedText(lists: ConnectionNow['lists']): {text: string; isMissing?: true} | undefined {
  const [before, now] = lists.slice(-2);
  if (!before) return undefined;
  if (!now) return {text: 'Plug the board in, or out, and list again: what comes or goes is the board.'};
  const {came, went, turned} = plugging(before, now);
  const said = [
    ...turned.map(
      ([from, to]) => `Another device now: was ${portText(from)}, is ${portText(to)}. A board in its loader does that.`,
    ),
    ...came.map((port) => `New since the list before: ${portText(port)}.`),
    ...went.map((port) => `No longer there: ${portText(port)}.`),
  ];
  if (said.length) return {text: said.join(' ')};
  return {text: 'No port came or went since the list before.', isMissing: true};
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
