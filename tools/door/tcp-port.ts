/** A byte port over TCP, and how its address is written. */
import {connect, type Socket} from 'node:net';
import {UsageError} from './command';
import type {BytePort} from '@core/link/port';
import {PortRefused, portOver} from './open-port';

/** Connects to `host`:`port`. @throws PortRefused when nobody listens there. */
export function openTcpPort(host: string, port: number): Promise<BytePort> {
  return new Promise((resolve, reject) => {
    const socket = connect({host, port, noDelay: true});
    const refused = ({message}: Error) => reject(new PortRefused('missing', message));
    socket.once('error', refused);
    socket.once('connect', () => {
      socket.off('error', refused);
      resolve(portOf(socket));
    });
  });
}

const portOf = (socket: Socket): BytePort =>
  portOver(socket, {
    destroy: () => void socket.destroy(),
    finish: () => void socket.end(),
    write: (bytes) =>
      new Promise((resolve, reject) => socket.write(bytes, (error) => (error ? reject(error) : resolve()))),
  });

export const isPort = (port: number): boolean => Number.isInteger(port) && port >= 0 && port <= 0xffff;

/** "127.0.0.1:7000", "[::1]:7000". @throws UsageError */
export function hostAndPort(address: string): {readonly host: string; readonly port: number} {
  const [, host = '', digits = ''] = /^(.+):(\d+)$/.exec(address) ?? [];
  if (!host || !isPort(Number(digits))) throw new UsageError();
  return {host: host.replace(/^\[(.*)\]$/, '$1'), port: Number(digits)};
}
