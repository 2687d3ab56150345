/** Builds images of invented firmware: an identity block and noise that keeps its bytes from one release to the next. */
import type {Chip} from '@core/firmware/chips';
import {identityBytes, writeIdentity, type Feature, type VersionBounds} from '@core/firmware/identity';
import {type Variant} from '@core/settings/variant';
import type {Image} from '@core/firmware/image';
import type {LayoutRevision} from '@core/settings/definitions';
import type {Release} from '@core/firmware/releases';
import {madeNoise} from './made-noise';

/** What the catalogue says of a release, and its image does not. */
type Published = Pick<Release, 'pulses' | 'tones' | 'byStick'>;

export interface MadeRelease extends Published {
  readonly version: string;
  readonly layout: LayoutRevision;
  /** Lowest bootloader revision that can write it. */
  readonly bootRevision: number;
  readonly pages: number;
  readonly features: readonly Feature[];
  readonly standing: 'steady' | 'trial' | 'withdrawn';
  readonly date: string;
  readonly note: string;
  /** Pages (from the image's start) whose code changed against the release before. Page 0 always changes. */
  readonly changed: readonly number[];
}

interface ImageRecipe {
  readonly chip: Chip;
  readonly start: number;
  /** Releases up to and with the one to make, oldest first. */
  readonly history: readonly MadeRelease[];
  readonly identity: {
    readonly family: string;
    readonly variant: Variant;
    readonly board: string;
    readonly deadTimeNs: number;
    readonly pwmKhz?: number;
    readonly base?: VersionBounds;
  };
  /** Gives the pages in `flavoured` other bytes; 0 for none. */
  readonly flavour: number;
  readonly flavoured: readonly number[];
}

export function makeImage({chip, start, history, identity, flavour, flavoured}: ImageRecipe): Image {
  const release = history.at(-1)!;
  const body = new Uint8Array(release.pages * chip.pageBytes - identityBytes);
  for (let page = 0; page < release.pages; page++) {
    const since = history.findLastIndex((r) => r.changed.includes(page));
    const own = flavour && flavoured.includes(page) ? flavour : 0;
    const seed = page * 1000 + Math.max(0, since) * 10 + own * 100_003;
    const bytes = madeNoise(seed, chip.pageBytes);
    if (page === 0) body.set(bytes.subarray(identityBytes), 0);
    else body.set(bytes, page * chip.pageBytes - identityBytes);
  }
  const {version, layout, features, bootRevision} = release;
  const block = writeIdentity(
    {...identity, version, chip: chip.name, layoutRevision: layout, features, bootRevision},
    body,
  );
  const bytes = new Uint8Array(block.length + body.length);
  bytes.set(block);
  bytes.set(body, block.length);
  return {segments: [{start, bytes}]};
}
