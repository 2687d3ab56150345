/** The stand-in bench on a serial device: at its bit rate, and there again when the device comes back. */
import {readPieces, sleep, type ByteWriter} from '@core/link/port';
import {clockOf} from '@core/link/clock';
import {openSerialPort} from './serial-port';
import {runBench, type RunningBench} from './serve-bench';

interface SerialBenchQuestion {
  readonly craft: string;
  readonly path: string;
  readonly fault?: string | undefined;
  /** Bits a second that its wire carries, ten for a byte. */
  readonly baud: number;
  /** Gets the bench itself, for what hands do beside its cable. */
  readonly onBench: (running: RunningBench) => void;
  /** Said as the device opens, and as it goes. */
  readonly onDevice: (state: 'open' | 'gone') => void;
}

/** Between two tries to open the device, ms. */
const againMs = 250;

/** A line that is free again so soon has room for a report, ms. */
const spareMs = 10;

/** A wire that carries so many bits a second: bytes come out when the last of them has passed. */
class SlowWire {
  private freeAt = 0;

  constructor(
    private readonly baud: number,
    private readonly deliver: (bytes: Uint8Array) => void,
  ) {}

  get isBusy(): boolean {
    return this.freeAt > performance.now() + spareMs;
  }

  send(bytes: Uint8Array): void {
    const now = performance.now();
    this.freeAt = Math.max(now, this.freeAt) + (bytes.length * 10_000) / this.baud;
    setTimeout(() => this.deliver(bytes), this.freeAt - now);
  }
}

/** Never ends: hardware does not either. */
export async function benchOnSerial({
  craft,
  path,
  fault,
  baud,
  onBench,
  onDevice,
}: SerialBenchQuestion): Promise<never> {
  const running = runBench({craft, fault});
  onBench(running);
  const clock = clockOf(globalThis);
  for (;;) {
    const port = await openSerialPort(path, baud).catch(() => undefined);
    if (!port) {
      await sleep(clock, againMs);
      continue;
    }
    onDevice('open');
    const cable = running.open();
    const near = cable.readable.getReader();
    const [there, here] = [port.writable.getWriter(), cable.writable.getWriter()];
    const out = new SlowWire(baud, (bytes) => void there.write(bytes).catch(() => undefined));
    running.bench.isLineBusy = () => out.isBusy;
    void readPieces(near, (bytes) => out.send(bytes));
    const into = new SlowWire(baud, (bytes) => take(running.drive, here, bytes));
    const reader = port.readable.getReader();
    await readPieces(reader, (bytes) => into.send(bytes));
    onDevice('gone');
    await near.cancel();
    await reader.cancel();
  }
}

function take(drive: () => void, cable: ByteWriter, bytes: Uint8Array): void {
  drive();
  cable.write(bytes).catch(() => undefined);
  drive();
}
