/** Flash of the first ESC as rules read and write it; only a page that nothing is in is ever written. */
import {addressText} from '../hex';
import {Broken, expectDone, NotTried, type Trial} from './adapter-rule';

const output = 0;

export async function readFlash({link}: Trial, address: number, length: number): Promise<Uint8Array> {
  const bytes = expectDone(await link.ask('esc.read', {output, address, length}), 'esc.read');
  if (bytes instanceof Uint8Array && bytes.length === length) return bytes;
  throw new Broken(`esc.read of ${length} bytes did not answer with ${length} bytes.`);
}

/** Any length, in pieces of 256 bytes. */
export async function readRange(trial: Trial, address: number, length: number): Promise<Uint8Array> {
  const bytes = new Uint8Array(length);
  for (let at = 0; at < length; at += 256)
    bytes.set(await readFlash(trial, address + at, Math.min(256, length - at)), at);
  return bytes;
}

export const isBlank = async (trial: Trial, address: number, length: number): Promise<boolean> =>
  (await readRange(trial, address, length)).every((byte) => byte === 0xff);

export async function writeFlash({link}: Trial, address: number, bytes: Uint8Array): Promise<void> {
  expectDone(await link.ask('esc.write', {output, address, bytes}), 'esc.write');
}

/** The last page of the application, in the bootloader and blank. Throws {@link NotTried} where it is in use. */
export async function spareAddress(trial: Trial): Promise<{readonly address: number}> {
  const {application, module, pageBytes} = trial.chip!;
  const address = (module?.start ?? application.end) - pageBytes;
  expectDone(await trial.link.ask('esc.enter', {output}), 'esc.enter');
  if (!(await isBlank(trial, address, pageBytes))) throw new NotTried(`The page at ${addressText(address)} is in use.`);
  return {address};
}
