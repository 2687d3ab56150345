/** One thing that an adapter does wrong: what it changes in messages on their way. */
import type {Message} from '@core/link/message';
import type {SimulatedBench} from '../hardware/bench';
import type {LaxDoor} from '../hardware/wires/network-door';

/** What a fault can do between the two sides. */
export interface Between {
  /** Sends a message on to the bench. */
  readonly pass: (message: Message) => void;
  /** Answers the client in the bench's place. */
  readonly answer: (message: Message) => void;
  readonly after: (ms: number, callback: () => void) => void;
  /** The hardware itself, for what goes on without any message. */
  readonly bench: SimulatedBench;
}

export interface Fault {
  /** The rule that finds it. */
  readonly foundBy: string;
  /** Takes a request instead of it being passed on. */
  request?(message: Message, between: Between): void;
  /** The answer that leaves instead. */
  answer?(message: Message): Message;
  /** The frame that leaves instead. */
  frame?(frame: Uint8Array): Uint8Array;
  /** The cable was pulled. */
  unplugged?(between: Between): void;
  /** How it lets connections in over a network; it is tried over one. */
  readonly door?: LaxDoor;
  /** Frames with a wrong CRC are mended instead of dropped. */
  readonly mendsCrc?: true;
  /** Time by which answers are late, ms. */
  readonly lateMs?: number;
}

export const done = ({sequence}: Message, argument: unknown = null): Message => ({
  sequence,
  operation: 'done',
  argument,
});
/** Requests of its own: numbers that no client of a test comes to. */
let ownNumber = 60_000;
export const own = (message: Message): Message => ({
  ...message,
  sequence: ownNumber < 65_000 ? ownNumber++ : (ownNumber = 60_000),
});
export const isOwn = ({sequence}: Message) => sequence >= 60_000 && sequence <= 65_000;
