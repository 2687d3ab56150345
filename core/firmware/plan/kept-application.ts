/** The application of an ESC as it was read out before other firmware replaced it: it may go back to that ESC alone. */
import {findChip} from '../chips';
import type {FirmwarePlan} from './firmware-plan';
import {planPages} from './page-plan';
import type {ImageSupply, PlannedImage} from './planned-image';
import type {ReadFrom} from './read-from';

/** Firmware of others has no name that Bidex could read. */
const foreignName = 'foreign firmware';

/** The plan of a kept application: it has no family and no version. */
export const planBack = (sha256: string): FirmwarePlan => ({family: foreignName, version: '', file: sha256});
export const isPlannedBack = ({family}: Pick<FirmwarePlan, 'family'>): boolean => family === foreignName;

/** When and how an image was read out of an ESC; undefined where it was not. */
export const readFromEsc = (
  planned: Pick<PlannedImage, 'readFrom'> | undefined,
  serial: string,
): ReadFrom | undefined => planned?.readFrom?.find((from) => from.serial === serial);

interface HeldEsc {
  readonly boot: {readonly serial: string; readonly chip: string};
  readonly pageCrcs: readonly number[];
}

/** Whether every page of an image lies in an ESC already. */
export function holdsImage({boot, pageCrcs}: HeldEsc, {image}: Pick<PlannedImage, 'image'>): boolean {
  const chip = findChip(boot.chip);
  return chip !== undefined && planPages(chip, image, pageCrcs, 'base').toWrite.length === 0;
}

/** The kept application that an ESC held, page by page; undefined where none was kept. */
export function keptApplication({files, imageIn}: ImageSupply, esc: HeldEsc): PlannedImage | undefined {
  for (const {name, sha256, readFrom} of files) {
    const image = readFrom?.some((from) => from.serial === esc.boot.serial) ? imageIn(sha256) : undefined;
    if (image && holdsImage(esc, {image})) return {name, sha256, image, standing: undefined, readFrom};
  }
  return undefined;
}
