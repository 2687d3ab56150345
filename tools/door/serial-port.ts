/** Serial ports of this computer as byte ports. */
import {SerialPort} from 'serialport';
import type {ListedPort} from '@core/link/bridge';
import type {BytePort} from '@core/link/port';
import {PortRefused, portOver} from './open-port';

/** Bits a second where nobody says otherwise. USB takes any. */
export const usualBaud = 115_200;

/** As the package lists it. */
interface SystemPort {
  readonly path: string;
  readonly manufacturer: string | undefined;
  readonly vendorId: string | undefined;
  readonly productId: string | undefined;
  readonly serialNumber: string | undefined;
}

/** Ports that the system lists, those with a maker's number first: the others are mostly sockets without a plug. */
export async function listSerialPorts(): Promise<ListedPort[]> {
  const ports = (await SerialPort.list()) as readonly SystemPort[];
  const listed = ports.map(({path, manufacturer, vendorId, productId, serialNumber}) => ({
    path,
    ...(manufacturer && {maker: manufacturer}),
    ...(vendorId && {vendor: vendorId.toLowerCase()}),
    ...(productId && {product: productId.toLowerCase()}),
    ...(serialNumber && {serial: serialNumber}),
  }));
  return [...listed.filter((p) => p.vendor), ...listed.filter((p) => !p.vendor)];
}

/** @throws PortRefused when another program holds it, or it is not there or not for this user. */
export async function openSerialPort(path: string, baudRate = usualBaud): Promise<BytePort> {
  const port = await opened(path, baudRate);
  const close = () => {
    if (port.isOpen) port.close(() => undefined);
  };
  return portOver(port, {destroy: close, finish: close, write: (bytes) => written(port, bytes)});
}

function opened(path: string, baudRate: number): Promise<SerialPort> {
  return new Promise((resolve, reject) => {
    const port = new SerialPort({path, baudRate, autoOpen: false});
    port.open((error) => {
      if (error) return reject(refusedBy(error));
      // What lies in it was said to another.
      port.flush(() => resolve(port));
    });
  });
}

/** A lock that another program has, as the systems say it; everything else is a port that cannot be had. */
const refusedBy = ({message}: Error): PortRefused =>
  new PortRefused(
    /lock|busy|temporarily unavailable|access denied|resource in use/i.test(message) ? 'held' : 'missing',
    message,
  );

/** Resolves once the system has taken the bytes: who waits for it sends no faster than the port. */
function written(port: SerialPort, bytes: Uint8Array): Promise<void> {
  return new Promise((resolve, reject) => {
    if (!port.isOpen) return reject(new Error('The port is closed'));
    port.write(Buffer.from(bytes));
    port.drain((error) => (error ? reject(error) : resolve()));
  });
}
