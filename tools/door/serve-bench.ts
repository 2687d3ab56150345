/** Serves the stand-in bench of a craft in real time: over TCP to one client at a time, or on a serial device. */
import {createServer, type Server} from 'node:net';
import {benches} from '@simulator/benches/benches';
import {SimulatedBench} from '@simulator/hardware/bench';
import {NetworkDoor} from '@simulator/hardware/wires/network-door';
import {openPort} from '@simulator/hardware/wires/port';
import {VirtualTime} from '@core/link/virtual-time';
import {readPieces, type BytePort} from '@core/link/port';
import {faults, openFaultyPort} from '@simulator/testing/faulty-adapter';

interface BenchQuestion {
  readonly craft: string;
  /** Name of a deliberate fault of the adapter. */
  readonly fault?: string | undefined;
}

interface ServeQuestion extends BenchQuestion {
  /** TCP port on 127.0.0.1; 0 takes a free one. */
  readonly port: number;
}

export interface RunningBench {
  readonly bench: SimulatedBench;
  /** Plugs its cable in. */
  readonly open: () => BytePort;
  /** Its clock is brought up to the real one. */
  readonly drive: () => void;
  readonly stop: () => void;
}

/** The battery is on, and a single-wire adapter is clipped to the first ESC. Throws on an unknown fault. */
export function runBench({craft, fault}: BenchQuestion): RunningBench {
  const time = new VirtualTime();
  const bench = new SimulatedBench(benches[craft]!(), time);
  bench.setBattery(true);
  bench.clippedTo = 0;
  const open = () => (fault === undefined ? openPort(bench) : openFaultyPort(bench, fault));
  const began = performance.now();
  const drive = () => time.advanceTo(performance.now() - began);
  const ticking = setInterval(drive, 1);
  return {bench, open, drive, stop: () => clearInterval(ticking)};
}

/** Listens. A connection that begins as no frame does is closed. */
export function serveBench({craft, port, fault}: ServeQuestion): Promise<Server> {
  const {open, drive, stop} = runBench({craft, fault});
  open();
  const door = new NetworkDoor(open, fault === undefined ? {} : faults[fault]!().door);
  const server = createServer({noDelay: true}, (socket) => {
    const {readable, writable} = door.connect();
    const [reader, writer] = [readable.getReader(), writable.getWriter()];
    socket.on('data', (bytes) => {
      drive();
      // What was not let in, or has lost its cable, is closed.
      writer.write(new Uint8Array(bytes)).catch(() => socket.destroy());
      drive();
    });
    socket.on('close', () => void reader.cancel());
    socket.on('error', () => socket.destroy());
    void readPieces(reader, (bytes) => socket.write(bytes)).then(() => socket.end());
  });
  server.on('close', stop);
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () => resolve(server));
  });
}
