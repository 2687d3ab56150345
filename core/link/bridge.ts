/**
 * What a page and a bridge say to each other over their WebSocket: texts in JSON, beside the bytes of the port, which go as
 * they are. See docs/bench-link.md, "Over a bridge".
 */
import * as z from 'zod';
import type {Problem} from '../problem';

/** Where a bridge listens unless it is told otherwise. */
export const bridgePort = 4320;
/** Bytes that may be on their way in one direction before some of them were taken. */
export const bridgeWindow = 64 * 1024;
/** Letters and figures of a code that are not taken for each other, and how many of them it has. */
export const codeLetters = 'ABCDEFGHJKLMNPQRTUVWXY346789';
export const codeLength = 8;

const text = z.string().max(300);
/** A serial port as the system lists it; numbers are four hexadecimal digits. */
const listedPort = z.object({
  path: text,
  maker: text.optional(),
  vendor: text.optional(),
  product: text.optional(),
  serial: text.optional(),
});
export type ListedPort = z.infer<typeof listedPort>;

/** As one line of text: "/dev/ttyACM0, 0483:5740, Example works". */
export const portText = ({path, maker, vendor, product, serial}: ListedPort): string =>
  [path, vendor && `${vendor}:${product ?? '????'}`, maker, serial].filter(Boolean).join(', ');

/** From the page: its code, once; which ports there are; one of them opened; how many bytes it has taken so far. */
export const toBridge = z.union([
  z.object({code: text}),
  z.object({list: z.literal(true)}),
  z.object({open: text.nullable()}),
  z.object({taken: z.number().int().min(0)}),
]);
export type ToBridge = z.infer<typeof toBridge>;

/** From the bridge: that the code is right, and what it serves, where one port was chosen there; the answers to the others. */
export const fromBridge = z.union([
  z.object({welcome: z.object({serves: text.nullable()})}),
  z.object({ports: z.array(listedPort).max(200)}),
  z.object({opened: text}),
  z.object({taken: z.number().int().min(0)}),
]);
export type FromBridge = z.infer<typeof fromBridge>;

/** Why a bridge closes its WebSocket, as codes of RFC 6455 that are for applications. */
export const bridgeCloses = {
  nonsense: 4400,
  'wrong-code': 4401,
  taken: 4409,
  'port-gone': 4410,
  'port-held': 4423,
  'port-missing': 4404,
} as const;
type BridgeClose = keyof typeof bridgeCloses;

const closed: Readonly<Record<BridgeClose, Omit<Problem, 'code' | 'place'>>> = {
  nonsense: {
    meaning: 'The bridge did not understand what this page sent.',
    remedy: 'Update Bidex and its bridge to one version: both come with the same folder.',
  },
  'wrong-code': {
    meaning: 'The bridge did not accept the code.',
    remedy: 'Type the code that its terminal shows now; it has another one after each start.',
  },
  taken: {
    meaning: 'Another page is connected to this bridge. One at a time can use it.',
    remedy: 'Close that page, or disconnect there, then connect again.',
  },
  'port-gone': {
    meaning: 'The port ended: its cable is out, or the hub or adapter behind it started again.',
    remedy: 'Plug the cable in, start the bridge again if its terminal says that it has ended, and connect again.',
  },
  'port-held': {
    meaning: 'The port refused to open: another program on this computer holds it.',
    remedy: 'Close the program that talks to the flight controller, then connect again.',
  },
  'port-missing': {
    meaning: 'The bridge cannot open that port: it is not there, or this user may not use it.',
    remedy: 'Check the cable, and on Linux that this user is in the group of the port (often dialout).',
  },
};

/** What the end of a bridge's WebSocket says, by its code; undefined where that says nothing of its own. */
export function bridgeProblem(code: number): Problem | undefined {
  const name = (Object.keys(bridgeCloses) as BridgeClose[]).find((n) => bridgeCloses[n] === code);
  return name && {...closed[name], place: 'bridge', code: name === 'port-gone' ? 'cable-out' : name};
}

/** A code without the marks and spaces that people type into it, in capitals. */
export const plainCode = (code: string): string => code.toUpperCase().replace(/[^A-Z0-9]/g, '');
