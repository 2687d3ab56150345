/** Firmware that the conformance check may write to a flight controller: a file that is given, or the stand-in's own. */
import {readFileSync} from 'node:fs';
import type {FirmwareFor} from '@core/conformance/adapter-rule';
import {findControllerChip} from '@core/controller/firmware/chips';
import {controllerIdentityOf} from '@core/controller/firmware/fit';
import {extent, flatten, type Image} from '@core/firmware/image';
import {readImage} from '@core/firmware/formats/read-image';
import {publishedControllerReleases} from '@simulator/firmware/plumb';

/** @param file path of an image. The function throws when the file does not read, and knows nothing for another board. */
export function firmwareFrom(file: string | undefined): FirmwareFor {
  const given = file === undefined ? undefined : imageIn(file);
  return ({standIn, ...told}) => {
    const image = given ?? (standIn ? ownImage(told) : undefined);
    const chip = findControllerChip(told.chip);
    if (!image || !chip) return undefined;
    const identity = controllerIdentityOf(image, chip);
    if (!identity.ok || identity.value.board !== told.board) return undefined;
    return flatten(image, {start: chip.application.start, end: extent(image)!.end});
  };
}

function imageIn(file: string): Image {
  const reading = readImage(readFileSync(file));
  if (!reading.ok) throw new Error(`${file} is not an image: ${reading.problem.meaning}`);
  return reading.value.image;
}

const ownImage = ({board, version}: {readonly board: string; readonly version: string}): Image | undefined =>
  publishedControllerReleases().find(({release}) => release.board === board && release.version === version)?.image;
