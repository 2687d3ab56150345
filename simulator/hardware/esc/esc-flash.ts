/** Fills the flash of an ESC as it left its last update: bootloader, images, settings page. */
import type {Chip} from '@core/firmware/chips';
import type {Image} from '@core/firmware/image';
import {defaultSettings, encodeSettings, type Settings} from '@core/settings/page';
import type {LayoutRevision} from '@core/settings/definitions';
import {Random} from '../../random';

interface EscContent {
  /** Base firmware, reply module: whatever lies in the application range. */
  readonly images: readonly Image[];
  readonly layout: LayoutRevision;
  /** What is not named stands at its default. */
  readonly settings: Settings;
  /** For the bytes that no definition names, which differ from ESC to ESC. */
  readonly seed: number;
}

/** Fresh flash; the bootloader and a few unnamed settings bytes are noise, as on a real one. */
export function fillFlash(chip: Chip, {images, layout, settings, seed}: EscContent): Uint8Array {
  const random = new Random(seed);
  const flash = new Uint8Array(chip.flashBytes).fill(0xff);
  const {bootloader} = chip;
  flash.set(new Random(77).bytes(bootloader.end - bootloader.start), bootloader.start);
  for (const {segments} of images) for (const {start, bytes} of segments) flash.set(bytes, start);
  const page = new Uint8Array(chip.pageBytes).fill(0xff);
  page.set(random.bytes(12), 40);
  page.set(random.bytes(16), 96);
  page.set(encodeSettings(layout, {...defaultSettings(layout), ...settings}, page), 0);
  flash.set(page, chip.settings.start);
  return flash;
}
