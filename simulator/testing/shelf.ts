/** A shelf in memory with everything the release service publishes, for tests and the drill. */
import type {Craft} from '@core/craft/craft';
import {wantedFirmware} from '@core/craft/motor-firmware';
import {
  plannedImage,
  releaseImage,
  type ImageFor,
  type ImageSupply,
  type PlannedImage,
} from '@core/firmware/plan/planned-image';
import {plannedControllerImage, type ControllerImage} from '@core/order/controller-work';
import {publishedControllerReleases} from '../firmware/plumb';
import {publishedReleases, type PublishedRelease} from '../firmware/releases';

export class MemoryShelf {
  private readonly releases: readonly PublishedRelease[] = publishedReleases();

  private readonly controllers = publishedControllerReleases();

  /** The digest stands for the file; here the release's id does. */
  image(sha256: string) {
    const entry = [...this.releases, ...this.controllers].find((p) => p.release.id === sha256);
    if (!entry) throw new RangeError(`No image ${sha256}`);
    return entry.image;
  }

  /** What images can be taken from. */
  readonly supply: ImageSupply = {
    releases: this.releases.map(({release}) => ({...release, sha256: release.id})),
    files: [],
    imageIn: (sha256) => this.image(sha256),
  };

  find(is: (release: ImageSupply['releases'][number]) => boolean): PlannedImage | undefined {
    return releaseImage(this.supply, this.supply.releases.find(is));
  }

  /** The image that a plan means on a flight controller's board. */
  controllerImage({plan}: Pick<Craft, 'plan'>, board: string): ControllerImage | undefined {
    return plannedControllerImage(
      {
        releases: this.controllers.map(({release}) => ({...release, sha256: release.id, sizeBytes: 1})),
        files: [],
        imageIn: (sha256) => this.image(sha256),
      },
      plan.controllerFirmware,
      board,
    );
  }

  /** What an order for `craft` asks its shelf. */
  imageFor =
    (craft: Pick<Craft, 'plan' | 'helicopter'>): ImageFor =>
    ({output, hardware}, part) =>
      plannedImage(this.supply, wantedFirmware(craft, output), {board: hardware.board, part});
}
