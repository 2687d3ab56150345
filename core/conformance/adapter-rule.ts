/** One line of the conformance list: what an adapter must keep to, and how that is tried on it. */
import type {Chip} from '../firmware/chips';
import type {Ability, Hello} from '../link/operations';
import type {Heard, RawLink} from './raw-link';

/** What a rule needs to be tried; where it is missing, the rule is not tried and says so. */
export type Need = Ability | 'single-wire' | 'network' | 'spare-esc';

/** The adapter as it was found when the check began. */
export interface Adapter {
  readonly hello: Hello;
  /** Chip of the ESC on the first output; undefined without ESC power, or when Bidex does not know it. */
  readonly chip: Chip | undefined;
  /** Whether motors may turn: it stands in for hardware, or a person said that the propellers are off. */
  readonly mayTurn: boolean;
  /** Whether the ESC on the first output may be lost by trying: it stands in for hardware, or a person said so. */
  readonly mayLoseEsc: boolean;
  /** Whether it is reached over a network, where anybody on it may connect too. */
  readonly overNetwork: boolean;
  /** Application of a flight controller that may be written to it, from its first byte; undefined where none is at hand. */
  readonly firmwareFor?: FirmwareFor | undefined;
}

/** What a flight controller says of itself → the application to write to it. */
export type FirmwareFor = (told: {
  readonly board: string;
  readonly chip: string;
  readonly version: string;
  /** It stands in for hardware. */
  readonly standIn: boolean;
}) => Uint8Array | undefined;

export interface Trial extends Adapter {
  /** A fresh connection. */
  readonly link: RawLink;
  /** Ends the connection and opens another. */
  again(): Promise<RawLink>;
  /** Opens another while the first stays; the caller closes it. */
  second(): Promise<RawLink>;
}

export interface ConformanceRule {
  readonly id: string;
  readonly text: string;
  readonly needs?: readonly Need[];
  /** It commands a motor to turn, for moments and gently. */
  readonly turns?: true;
  /** Throws {@link Broken} when the adapter does not keep to it, {@link NotTried} where it cannot be seen. */
  try(trial: Trial): Promise<void>;
}

/** How an adapter does not keep to a rule. */
export class Broken extends Error {}
/** Why a rule could not be tried. */
export class NotTried extends Error {}

export function expectDone({kind, value}: Heard, asked: string): unknown {
  if (kind === 'done') return value;
  throw new Broken(`${asked}: ${said({kind, value})}.`);
}

export function expectRefusal({kind, value}: Heard, asked: string, ...codes: readonly string[]): void {
  const code = kind === 'refused' ? (value as {code?: unknown}).code : undefined;
  if (typeof code === 'string' && codes.includes(code)) return;
  throw new Broken(`${asked} must be refused with ${codes.join(' or ')}: ${said({kind, value})}.`);
}

function said({kind, value}: Pick<Heard, 'kind' | 'value'>): string {
  if (kind === 'silence') return 'no answer came';
  if (kind === 'refused') return `refused with ${String((value as {code?: unknown} | null)?.code)}`;
  return kind === 'done' ? 'it was done' : 'an answer came that is neither "done" nor "refused"';
}
