/** Applications that orders read out before they replaced them, beside the shelf: a name stands for their digest. */
import {findChip} from '@core/firmware/chips';
import type {Image} from '@core/firmware/image';
import type {KeptApplication} from '@core/firmware/plan/read-from';
import type {ImageSupply} from '@core/firmware/plan/planned-image';
import {hexOfBytes} from '@core/hex';
import type {MemoryShelf} from './shelf';

export class KeptApplications {
  readonly all: KeptApplication[] = [];

  constructor(private readonly shelf: MemoryShelf) {}

  keep(application: KeptApplication): void {
    this.all.push(application);
  }

  image(sha256: string): Image {
    const kept = this.all.find((application) => nameOf(application) === sha256);
    if (!kept) return this.shelf.image(sha256);
    return {segments: [{start: findChip(kept.chip)!.application.start, bytes: kept.bytes}]};
  }

  /** What images can be taken from. */
  get supply(): ImageSupply {
    const files = this.all.map((kept) => ({
      ...{name: nameOf(kept), sha256: nameOf(kept)},
      readFrom: [{serial: kept.serial, at: 3, page: hexOfBytes(kept.settingsPage)}],
    }));
    return {releases: this.shelf.supply.releases, files, imageIn: (sha256) => this.image(sha256)};
  }
}

const nameOf = ({serial}: KeptApplication): string => `kept of ${serial}`;
