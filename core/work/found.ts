/** What a survey read from the bench. Immutable; never edited. */
import type {Hardware} from '../firmware/fit';
import type {Identity} from '../firmware/identity';
import type {BootIdentity, ControllerConfig, ControllerIdentity, Power} from '../link/operations';
import type {Problem} from '../problem';
import type {DecodedSettings} from '../settings/page';

export interface FoundEsc {
  readonly output: number;
  readonly boot: BootIdentity;
  /** Undefined when no application checks: the ESC stays in its bootloader. */
  readonly identity: Identity | undefined;
  /** From the identity block, or from an earlier survey of the same serial when there is none now. */
  readonly hardware: Hardware | undefined;
  /** The whole settings page as read. */
  readonly settingsPage: Uint8Array;
  readonly settings: DecodedSettings | undefined;
  /** CRC-32 of each application page, from the application's start. */
  readonly pageCrcs: readonly number[];
}

export interface SilentEsc {
  readonly output: number;
  readonly problem: Problem;
}

export interface Found {
  /** Epoch ms of the caller's clock. */
  readonly at: number;
  readonly adapter: string;
  readonly power: Power;
  readonly escs: readonly FoundEsc[];
  readonly silent: readonly SilentEsc[];
  readonly controller: {readonly identity: ControllerIdentity; readonly config: ControllerConfig};
}

export const foundEsc = (found: Found, output: number): FoundEsc | undefined =>
  found.escs.find((e) => e.output === output);
