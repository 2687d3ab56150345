/** The browser's own serial interface as a source of ports. */
import type {BytePort} from '@core/link/port';
import {ProblemError, type Problem} from '@core/problem';

/** What a port is known by again: the numbers of its maker, where it is a USB device. */
export interface KnownPort {
  readonly vendor?: number | undefined;
  readonly product?: number | undefined;
}

/** USB takes any rate; a converter chip takes this one. */
const baudRate = 115_200;

/** Undefined where this browser has none. */
export const serialOf = (browser: Navigator): Serial | undefined => ('serial' in browser ? browser.serial : undefined);

export const knownAs = (port: SerialPort): KnownPort => {
  const {usbVendorId, usbProductId} = port.getInfo();
  return {vendor: usbVendorId, product: usbProductId};
};

/** Whether it is the port that these numbers are of. */
export const isKnown = (port: SerialPort, {vendor, product}: KnownPort): boolean => {
  const own = knownAs(port);
  return own.vendor === vendor && own.product === product;
};

/** The one port that was allowed before and is this one; undefined where none is there, or several are. */
export async function allowedPort(serial: Serial, known: KnownPort | undefined): Promise<SerialPort | undefined> {
  if (!known) return undefined;
  const there = (await serial.getPorts()).filter((port) => isKnown(port, known));
  return there.length === 1 ? there[0] : undefined;
}

/** Lets a person choose. @throws ProblemError "no-port-chosen" where they choose none, or none is there. */
export async function chosenPort(serial: Serial): Promise<SerialPort> {
  try {
    return await serial.requestPort();
  } catch (error) {
    throw new ProblemError(noneChosen(error));
  }
}

/** @throws ProblemError "port-held" where another program or tab has it, or this user may not open it. */
export async function openSerial(port: SerialPort): Promise<BytePort> {
  try {
    await port.open({baudRate, bufferSize: 64 * 1024});
  } catch {
    throw new ProblemError(held);
  }
  const [reader, writer] = [port.readable!.getReader(), port.writable!.getWriter()];
  let closing: Promise<void> | undefined;
  const close = () =>
    (closing ??= (async () => {
      await Promise.allSettled([reader.cancel(), writer.abort()]);
      reader.releaseLock();
      writer.releaseLock();
      // A port whose cable is out cannot be closed, and need not be.
      await port.close().catch(() => undefined);
    })());
  return {
    readable: {getReader: () => ({read: () => reader.read(), cancel: close})},
    writable: {getWriter: () => ({write: (bytes) => writer.write(bytes), close})},
  };
}

function noneChosen(error: unknown): Problem {
  const isForbidden = error instanceof DOMException && error.name === 'SecurityError';
  return {
    code: 'no-port-chosen',
    place: 'serial port',
    meaning: isForbidden ? 'At this address the browser offers no serial port.' : 'No serial port was chosen.',
    remedy: isForbidden
      ? 'Open Bidex at http://127.0.0.1:4310, or connect by the bridge.'
      : 'Connect again and choose one. If the list was empty, see below.',
  };
}

export const noSerial: Problem = {
  code: 'no-serial',
  place: 'serial port',
  meaning: 'This browser has no serial interface of its own.',
  remedy: 'Use a browser of the Chromium family, or connect by the bridge.',
};
const held: Problem = {
  code: 'port-held',
  place: 'serial port',
  meaning: 'The port refused to open: another program or tab holds it, or this user may not open it.',
  remedy: 'Close the program that talks to the flight controller, then connect again.',
};
