/** Which image is planned for an ESC, and which one it held before: decided here and nowhere else. */
import {findChip} from '../chips';
import type {WantedFirmware} from './firmware-plan';
import type {Hardware, Standing} from './fit';
import type {Identity} from '../identity';
import type {Image} from '../image';
import type {ReadFrom} from './read-from';
import {contentOf} from '../formats/image-content';
import {regionOf, type ImagePart} from './page-plan';
import {releaseName, type Release} from '../releases';

/** An image by its file's digest, and what a person calls it. */
export interface ImageRef {
  readonly name: string;
  readonly sha256: string;
  /** ESCs that it was read out of, whole: it may go back to those alone. */
  readonly readFrom?: readonly ReadFrom[] | undefined;
}

/** An image at hand: from the shelf, or a file of one's own, which has no standing. */
export interface PlannedImage extends ImageRef {
  readonly image: Image;
  readonly standing: Standing | undefined;
  readonly needsController?: string | undefined;
}

/** An ESC that an image is wanted for. */
interface WantedOn {
  readonly output: number;
  readonly hardware: Hardware;
}

/** The image planned for an ESC; undefined where it is not at hand. */
export type ImageFor = (on: WantedOn, part: ImagePart) => PlannedImage | undefined;

/** What images can be taken from. */
export interface ImageSupply {
  readonly releases: readonly Omit<Release, 'sizeBytes'>[];
  /** Files of one's own. */
  readonly files: readonly ImageRef[];
  /** The image in the file of a digest; undefined where it was not read, or is not right. */
  readonly imageIn: (sha256: string) => Image | undefined;
}

/** A release as a planned image; undefined where its image is not at hand. */
export function releaseImage(
  {imageIn}: ImageSupply,
  release: ImageSupply['releases'][number] | undefined,
): PlannedImage | undefined {
  const image = release && imageIn(release.sha256);
  if (!image) return undefined;
  const {sha256, standing, needsController} = release;
  return {name: releaseName(release), sha256, image, standing, needsController};
}

/** A file of one's own as a planned image: nobody vouches for it, so it has no standing. */
export function ownImage({files, imageIn}: ImageSupply, digest: string): PlannedImage | undefined {
  const file = files.find((f) => f.sha256 === digest);
  const image = file && imageIn(digest);
  return image && {name: file.name, sha256: digest, image, standing: undefined, readFrom: file.readFrom};
}

/** The image that a plan means on a board: the file it names, else the release of that family, variant, version and PWM build. */
export function plannedImage(
  supply: ImageSupply,
  wanted: WantedFirmware,
  {board, part}: {readonly board: string; readonly part: ImagePart},
): PlannedImage | undefined {
  const {family, variant, version, pwmKhz, module, file} = wanted;
  if (part === 'base' && file !== undefined) return ownImage(supply, file);
  const ofFamily = supply.releases.filter((r) => r.board === board && r.family === family);
  const release =
    part === 'module'
      ? ofFamily.find((r) => r.variant === 'reply-module' && r.version === module)
      : ofFamily.find((r) => r.variant === variant && r.version === version && r.pwmKhz === pwmKhz);
  return releaseImage(supply, release);
}

/** The image an ESC held, by the identity that was read of it: version and checksum of the body are equal. */
export function heldImage(
  supply: ImageSupply,
  identity: Identity | undefined,
  part: ImagePart,
): PlannedImage | undefined {
  if (!identity) return undefined;
  const holds = ({sha256}: {readonly sha256: string}) => {
    const image = supply.imageIn(sha256);
    const other = image && identityOf(image, identity.chip, part);
    return other?.bodyCrc32 === identity.bodyCrc32 && other.version === identity.version;
  };
  const release = supply.releases.find((r) => r.board === identity.board && r.version === identity.version && holds(r));
  if (release) return releaseImage(supply, release);
  const own = supply.files.find(holds);
  return own && ownImage(supply, own.sha256);
}

/** The identity block of an image, where it checks on that chip. */
export function identityOf(image: Image, chipName: string, part: ImagePart): Identity | undefined {
  const chip = findChip(chipName);
  if (!chip || (part === 'module' && !chip.module)) return undefined;
  const check = contentOf(image, chip, regionOf(chip, part)).identity;
  return check.ok ? check.value : undefined;
}
