/** Files that are kept as they are. */
import type {ReadFrom} from '../firmware/plan/read-from';
import type {ControllerConfig} from '../controller/plan';
import type {SettingValues} from '../link/setting-shapes';
import type {Mapping} from '../flight/mapping';
import type {Noted} from '../flight/noted';

/** An image file of one's own, or one read out of an ESC. */
export interface OwnFile {
  readonly sha256: string;
  readonly name: string;
  /** Epoch ms. */
  readonly addedAt: number;
  readonly origin: 'file' | 'backup';
  /** Address of the first byte, for raw bytes. */
  readonly base?: number;
  readonly file: Uint8Array;
  /** ESCs that it was read out of before other firmware replaced it. */
  readonly readFrom?: readonly ReadFrom[] | undefined;
}

/** A flight log, kept with the craft it was recorded on. */
export interface KeptLog {
  readonly id: string;
  readonly craftId: string;
  readonly name: string;
  /** Epoch ms. */
  readonly addedAt: number;
  /** The file as it was opened, packed or not. */
  readonly file: Uint8Array;
  /** What its columns hold, where a person said it. */
  readonly mapping?: Mapping | undefined;
  /** What had been read from the flight controller when it was kept. */
  readonly config?: ControllerConfig | undefined;
  /** Everything else that it held then. */
  readonly settings?: SettingValues | undefined;
  /** What a person wrote on it. */
  readonly notes?: string | undefined;
  /** What a person measured on that flight. */
  readonly noted?: Noted | undefined;
}
