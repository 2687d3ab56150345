/** What a survey read from the bench. Immutable; never edited. */
import {firmwareName} from '../firmware/plan/firmware-plan';
import type {ControllerConfig} from '../controller/plan';
import type {BoardSettings} from '../controller/settings/board-settings';
import {findChip} from '../firmware/chips';
import type {Hardware, HardwareClaim} from '../firmware/plan/fit';
import type {Identity} from '../firmware/identity';
import {moduleRest} from '../firmware/plan/module-region';
import type {
  BootIdentity,
  ControllerIdentity,
  FieldLock,
  LoaderIdentity,
  MixerRow,
  Power,
  Road,
} from '../link/operations';
import type {Problem} from '../problem';
import type {ParameterKey} from '../settings/definitions';
import type {DecodedSettings} from '../settings/page';

export interface FoundEsc {
  readonly output: number;
  /** When it was read, epoch ms: on a single-wire adapter each ESC has its own moment. */
  readonly at: number;
  readonly boot: BootIdentity;
  /** Undefined when no application of ours checks: none, half-written, or foreign. */
  readonly identity: Identity | undefined;
  /** Reply module that checks and whose bounds hold the base. */
  readonly module: Identity | undefined;
  /** From the identity block, or from an earlier survey of the same serial, or from a claim, when there is none now. */
  readonly hardware: Hardware | undefined;
  /** Set when only a person's word tells the board. */
  readonly claim: HardwareClaim | undefined;
  /** The whole settings page as read. */
  readonly settingsPage: Uint8Array;
  readonly settings: DecodedSettings | undefined;
  /** CRC-32 of each application page, from the application's start. */
  readonly pageCrcs: readonly number[];
  /** The whole application range, where the bootloader cannot checksum and it was read anyway. */
  readonly application: Uint8Array | undefined;
}

export interface SilentEsc {
  readonly output: number;
  readonly problem: Problem;
}

export interface FoundController {
  readonly identity: ControllerIdentity;
  readonly config: ControllerConfig;
  /** The mixer that it runs on, one row per output; absent where it does not tell, or knows none. */
  readonly mixer?: readonly MixerRow[] | undefined;
  /** Fields that it lets not be set in some state, as that was then; absent where it does not tell. */
  readonly locks?: readonly FieldLock[] | undefined;
  /** Everything that it holds, by its own description; absent where it gives none. */
  readonly settings?: BoardSettings | undefined;
  /** It describes its settings, and they could not be read: long transfers get lost on the way. */
  readonly unread?: 'settings' | undefined;
}

export interface Found {
  /** Epoch ms of the caller's clock. */
  readonly at: number;
  readonly adapter: string;
  readonly road: Road;
  /** Where the cable was at the last read, where that is not the road of the round: the flight controller was read alone. */
  readonly plugged?: 'controller' | undefined;
  readonly power: Power;
  readonly escs: readonly FoundEsc[];
  readonly silent: readonly SilentEsc[];
  /** Undefined while only a single-wire adapter was connected, and while the flight controller is in its loader. */
  readonly controller: FoundController | undefined;
  /** The loader of a flight controller on which no firmware runs. */
  readonly loader?: LoaderIdentity | undefined;
}

export const foundEsc = (found: Found, output: number): FoundEsc | undefined =>
  found.escs.find((e) => e.output === output);

/** A setting of every motor's ESC as it was found, in the order of outputs; undefined where it was not read. */
export const foundSetting = (
  found: Found | undefined,
  motors: number,
  key: ParameterKey,
): readonly (number | undefined)[] =>
  Array.from({length: motors}, (_, output) => found && foundEsc(found, output)?.settings?.values[key]);

/** What an ESC runs, in words: the same for views, differences and accounts. */
export function firmwareText(esc: Pick<FoundEsc, 'identity' | 'module' | 'boot' | 'pageCrcs'>): string {
  const {identity, module, boot} = esc;
  if (!identity) return boot.applicationValid ? 'foreign firmware' : 'no application';
  const name = firmwareName({...identity, module: module?.version});
  return hasModuleRest(esc) ? `${name}, with the rest of a module` : name;
}

/** Whether the module region holds something that is no module: what an interrupted write left. */
export function hasModuleRest({identity, module, boot, pageCrcs}: Parameters<typeof firmwareText>[0]): boolean {
  const chip = findChip(boot.chip);
  if (!chip?.module || !identity || module) return false;
  const {start} = chip.application;
  const crcAt = (address: number) => pageCrcs[(address - start) / chip.pageBytes];
  return moduleRest(start + identity.imageLength, chip, crcAt).length > 0;
}

/** Whether an ESC answers bidirectional DShot. */
export const hasReplies = ({identity, module}: Pick<FoundEsc, 'identity' | 'module'>): boolean =>
  [identity, module].some((part) => part?.features.includes('replies'));

/** Whether an ESC runs firmware of others: it starts, and Bidex cannot read what it is. */
export const isForeign = ({boot, identity}: Pick<FoundEsc, 'boot' | 'identity'>): boolean =>
  boot.applicationValid && !identity;
