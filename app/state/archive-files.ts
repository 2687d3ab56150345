import {largestArchive, openArchive} from '@core/dropped-files/archive';
import {headBytes, kindsOfFile} from '@core/dropped-files/kinds';
import {ProblemError} from '@core/problem';

/**
 * The files of a zip archive; undefined for any other file, for a backup, and for one too large to be looked into.
 * @throws ProblemError where the archive does not unpack.
 */
export async function filesInside(file: File): Promise<File[] | undefined> {
  if (file.size > largestArchive || !(await isZip(file))) return undefined;
  const read = openArchive(file.name, new Uint8Array(await file.arrayBuffer()));
  if (!read.ok) throw new ProblemError(read.problem);
  return read.value?.map(({name, bytes}) => new File([bytes as Uint8Array<ArrayBuffer>], name));
}

/** The images that a file holds: those of an archive, else the file itself, whatever it is. */
export async function imagesIn(file: File): Promise<File[]> {
  const inside = await filesInside(file);
  if (!inside) return [file];
  const heads = await Promise.all(inside.map((own) => own.slice(0, headBytes).arrayBuffer()));
  const images = inside.filter(({name}, i) => kindsOfFile({name, bytes: new Uint8Array(heads[i]!)}).includes('image'));
  if (images.length) return images;
  throw new ProblemError({
    ...{code: 'no-image', place: file.name, meaning: 'There is no firmware image in this archive.'},
    remedy: 'Drop it on the page: what else it holds is opened where it belongs.',
  });
}

/** Signature of a local file header (PKWARE APPNOTE 4.3.7). */
async function isZip(file: File): Promise<boolean> {
  const [a, b, c, d] = new Uint8Array(await file.slice(0, 4).arrayBuffer());
  return a === 0x50 && b === 0x4b && c === 0x03 && d === 0x04;
}
