/** A shelf in memory with everything the release service publishes, for tests and the drill. */
import type {Craft} from '@core/craft/craft';
import type {Hardware} from '@core/firmware/fit';
import {releaseName} from '@core/firmware/releases';
import type {ImagePart} from '@core/firmware/page-plan';
import type {FoundEsc} from '@core/work/found';
import type {PlannedImage} from '@core/work/planned-image';
import {publishedReleases, type PublishedRelease} from '@simulator/releases';

export class MemoryShelf {
  private readonly releases: readonly PublishedRelease[] = publishedReleases();

  /** The digest stands for the file; here the release's id does. */
  image(sha256: string) {
    const entry = this.releases.find((p) => p.release.id === sha256);
    if (!entry) throw new RangeError(`No image ${sha256}`);
    return entry.image;
  }

  find(is: (release: PublishedRelease['release']) => boolean): PlannedImage | undefined {
    const entry = this.releases.find((p) => is(p.release));
    if (!entry) return undefined;
    const {id, standing, needsController} = entry.release;
    return {name: releaseName(entry.release), sha256: id, image: entry.image, standing, needsController};
  }

  /** What an order for `craft` asks its shelf. */
  imageFor =
    ({plan}: Pick<Craft, 'plan'>) =>
    (hardware: Hardware, part: ImagePart): PlannedImage | undefined =>
      this.find(
        (r) =>
          r.family === plan.firmware.family &&
          r.board === hardware.board &&
          (part === 'module'
            ? r.variant === 'reply-module' && r.version === plan.firmware.module
            : r.variant === 'multirotor' && r.version === plan.firmware.version && r.pwmKhz === plan.firmware.pwmKhz),
      );

  /** The image an ESC held before, for a roll-back. */
  imageBefore = (before: FoundEsc, part: ImagePart): PlannedImage | undefined => {
    const held = part === 'module' ? before.module : before.identity;
    const variant = part === 'module' ? 'reply-module' : 'multirotor';
    return this.find(
      (r) =>
        r.variant === variant &&
        r.board === before.hardware?.board &&
        r.version === held?.version &&
        r.pwmKhz === held.pwmKhz,
    );
  };
}
