/** A port of this computer for the page, where the browser reaches none by itself: `bidex bridge`. */
import {createInterface} from 'node:readline/promises';
import {bridgePort, type ListedPort, portText} from '@core/link/bridge';
import {startBridge, type BridgeQuestion} from './bridge-server';
import {fail, outcome, UsageError, type Run} from './command';
import {listSerialPorts, openSerialPort, usualBaud} from './serial-port';
import {hostAndPort, isPort, openTcpPort} from './tcp-port';

const usualPage = 4310;
const originsAt = (port: number): string[] =>
  ['127.0.0.1', 'localhost', '[::1]'].map((host) => `http://${host}:${port}`);

export const run: Run = async ({options}) => {
  const listen = Number(options.get('--listen') ?? bridgePort);
  const baud = Number(options.get('--baud') ?? usualBaud);
  if (!isPort(listen) || !Number.isInteger(baud) || baud < 1200) throw new UsageError();
  const page = options.get('--page');
  const pages = page === undefined ? originsAt(usualPage) : [new URL(page).origin];
  const served = await servedBy(options, baud);
  if (!served) return outcome({ok: true, value: {ports: await listSerialPorts()}});
  try {
    const bridge = await startBridge({...served, listen, pages, list: listSerialPorts, stays: options.has('--stay')});
    console.log(
      `The bridge is at 127.0.0.1:${bridge.port} for ${pages[0]!} and serves ${served.serves ?? 'the port that the page chooses'}.`,
    );
    console.log(`Code: ${bridge.code.slice(0, 4)}-${bridge.code.slice(4)}`);
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => bridge.close('it was stopped'));
    const why = await bridge.ended;
    console.log(`The bridge has ended: ${why}.`);
    process.exit(why === 'it was stopped' ? 0 : 1);
  } catch (error) {
    return outcome(fail('listen', `Port ${listen} cannot be had: ${(error as Error).message}`));
  }
};

type Served = Pick<BridgeQuestion, 'serves' | 'open'>;

/** Undefined where nothing was chosen and nobody can be asked. */
async function servedBy(options: ReadonlyMap<string, string>, baud: number): Promise<Served | undefined> {
  const tcp = options.get('--connect');
  if (tcp !== undefined) {
    const {host, port} = hostAndPort(tcp);
    return {serves: tcp, open: () => openTcpPort(host, port)};
  }
  const serial = options.get('--serial');
  if (serial !== undefined) return {serves: serial, open: () => openSerialPort(serial, baud)};
  if (options.has('--choose-in-page'))
    return {serves: undefined, open: async (path) => openSerialPort(await listedPath(path), baud)};
  if (!process.stdin.isTTY) return undefined;
  const ports = await listSerialPorts();
  const chosen = await chosenOf(ports);
  return chosen && {serves: chosen.path, open: () => openSerialPort(chosen.path, baud)};
}

/** A page may have what the system lists and nothing else of this computer. */
async function listedPath(path: string | null): Promise<string> {
  const listed = (await listSerialPorts()).find((port) => port.path === path);
  if (!listed) throw new Error('No such port is listed');
  return listed.path;
}

async function chosenOf(ports: readonly ListedPort[]): Promise<ListedPort | undefined> {
  if (!ports.length) return undefined;
  console.log(ports.map((port, i) => `${i + 1}  ${portText(port)}`).join('\n'));
  const asking = createInterface({input: process.stdin, output: process.stdout});
  const answer = await asking.question('Which one? ');
  asking.close();
  return ports[Number(answer) - 1];
}
