/** What lies in a zip archive (PKWARE APPNOTE), as firmware and logs are passed on: files without folders, bounded. */
import {unzipSync} from 'fflate';
import {failure, success, type Result} from '../problem';

/** Larger archives are not looked into, bytes; nor do they unpack to more than eight times that, or to more files. */
export const largestArchive = 64 * 2 ** 20;
const mostBytes = 8 * largestArchive;
const mostFiles = 500;

interface ArchivedFile {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** The name of the entry by which a backup of Bidex is known: it is no archive of files. */
const backupMark = 'bidex.json';

/** @returns its files; undefined where it is a backup. Names are without the folders they lay in. */
export function openArchive(name: string, zip: Uint8Array): Result<readonly ArchivedFile[] | undefined> {
  const refuse = (meaning: string) =>
    failure({
      code: 'bad-archive',
      place: name,
      meaning,
      remedy: 'Unpack it with a program of its own, then open the files.',
    });
  let [bytes, files, isBackup] = [0, 0, false];
  let unpacked: Readonly<Record<string, Uint8Array>>;
  try {
    unpacked = unzipSync(zip, {
      filter: ({name: path, originalSize}) => {
        isBackup ||= path === backupMark;
        if (isBackup || !isOwn(path)) return false;
        bytes += originalSize;
        files++;
        return bytes <= mostBytes && files <= mostFiles;
      },
    });
  } catch (error) {
    return refuse(`It does not unpack: ${error instanceof Error ? error.message : String(error)}.`);
  }
  if (isBackup) return success(undefined);
  if (bytes > mostBytes || files > mostFiles)
    return refuse(`It would unpack to ${files} files of ${Math.ceil(bytes / 2 ** 20)} MiB; that is too much.`);
  return success(Object.entries(unpacked).map(([path, content]) => ({name: path.split('/').at(-1)!, bytes: content})));
}

/** Folders, and what file systems add for themselves, are no files of anybody's. */
const isOwn = (path: string): boolean =>
  !path.endsWith('/') && !path.split('/').some((part) => part.startsWith('.') || part.startsWith('__'));
