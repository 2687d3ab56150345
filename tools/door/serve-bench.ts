/** Serves the stand-in bench of a craft over TCP in real time, to one client at a time that begins as a frame does. */
import {createServer, type Server} from 'node:net';
import {benches} from '@simulator/benches/benches';
import {SimulatedBench} from '@simulator/hardware/bench';
import {NetworkDoor} from '@simulator/hardware/wires/network-door';
import {openPort} from '@simulator/hardware/wires/port';
import {VirtualTime} from '@core/link/virtual-time';
import {faults, openFaultyPort} from '@simulator/testing/faulty-adapter';

interface ServeQuestion {
  readonly craft: string;
  /** TCP port on 127.0.0.1; 0 takes a free one. */
  readonly port: number;
  /** Name of a deliberate fault of the adapter. */
  readonly fault?: string | undefined;
}

/** Listens. The battery is on, and a single-wire adapter is clipped to the first ESC. Throws on an unknown fault. */
export function serveBench({craft, port, fault}: ServeQuestion): Promise<Server> {
  const time = new VirtualTime();
  const bench = new SimulatedBench(benches[craft]!(), time);
  bench.setBattery(true);
  bench.clippedTo = 0;
  const open = () => (fault === undefined ? openPort(bench) : openFaultyPort(bench, fault));
  open();
  const door = new NetworkDoor(open, fault === undefined ? {} : faults[fault]!().door);
  const began = performance.now();
  const drive = () => time.advanceTo(performance.now() - began);
  const ticking = setInterval(drive, 1);
  const server = createServer({noDelay: true}, (socket) => {
    const {readable, writable} = door.connect();
    const [reader, writer] = [readable.getReader(), writable.getWriter()];
    const pump = async () => {
      for (;;) {
        const {done, value} = await reader.read();
        if (done) break;
        socket.write(value!);
      }
      socket.end();
    };
    socket.on('data', (bytes) => {
      drive();
      // What was not let in, or has lost its cable, is closed.
      writer.write(new Uint8Array(bytes)).catch(() => socket.destroy());
      drive();
    });
    socket.on('close', () => void reader.cancel());
    socket.on('error', () => socket.destroy());
    void pump();
  });
  server.on('close', () => clearInterval(ticking));
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () => resolve(server));
  });
}
