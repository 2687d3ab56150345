/**
 * The stand-in bench behind an adapter that does one thing wrong, chosen by name: what the conformance check must find.
 * Requests and answers pass through it as messages, so that a fault is a few lines.
 */
import {decodeMessage, encodeMessage, type Message} from '@core/link/message';
import type {Report} from '@core/link/operations';
import type {BytePort, ByteReader, ByteWriter} from '@core/link/port';
import {SlipDecoder} from '@core/link/slip';
import {crc16} from '@core/checksums';
import type {SimulatedBench} from '../hardware/bench';
import {openPort} from '../hardware/wires/port';
import {withWrongCrc} from '@core/conformance/framing';
import {done, isOwn, own, type Between, type Fault} from './fault';
import {lies} from './lying-adapters';
import {untidy} from './untidy-settings';

const isMixer = (argument: unknown): argument is unknown[] =>
  Array.isArray(argument) && argument.length > 0 && typeof (argument[0] as {yaw?: unknown} | null)?.yaw === 'number';
const countedTwice = (report: Report): Report => ({
  ...report,
  motors: report.motors.map((m) => (m.lostAs ? {...m, lostAs: {...m.lostAs, missing: m.lostAs.missing + 1}} : m)),
});
const isTasks = (argument: unknown): argument is {us: number}[] =>
  Array.isArray(argument) && typeof (argument[0] as {mostUs?: unknown} | null)?.mostUs === 'number';

const mistakes: Readonly<Record<string, () => Fault>> = {
  'answers-with-wrong-crc': () => ({foundBy: 'answer-frames', frame: withWrongCrc}),
  'hears-wrong-crc': () => ({foundBy: 'frame-crc', mendsCrc: true}),
  'speaks-any-version': () => ({
    foundBy: 'hello-version',
    request: (m, {pass}) => pass(m.operation === 'hello' ? {...m, argument: null} : m),
  }),
  'takes-every-client-for-one': () => ({
    foundBy: 'hello-client',
    request: (m, {pass}) => pass(m.operation === 'hello' ? {...m, argument: null} : m),
  }),
  'agrees-to-anything': () => ({
    foundBy: 'unknown-operation',
    answer: (m) =>
      m.operation === 'refused' && (m.argument as {code: string}).code === 'unknown-operation' ? done(m) : m,
  }),
  'numbers-answers-anew': () => ({
    foundBy: 'numbers',
    answer: (m) => (m.sequence ? {...m, sequence: (m.sequence % 0xffff) + 1} : m),
  }),
  'answers-late': () => ({foundBy: 'in-time', lateMs: 1_200}),
  'repeats-changes': () => ({
    foundBy: 'copies-of-changes',
    request(m, {pass, answer}) {
      pass(m.operation === 'controller.set' ? own(m) : m);
      if (m.operation === 'controller.set') answer(done(m));
    },
  }),
  'tells-all-for-a-part': () => ({
    foundBy: 'part-of-configuration',
    request: (m, {pass}) =>
      pass(m.operation === 'controller.part' ? {...m, operation: 'controller.read', argument: null} : m),
  }),
  'writes-its-bootloader': () => ({
    foundBy: 'bootloader-kept',
    answer: (m) => (m.operation === 'refused' && (m.argument as {code: string}).code === 'protected' ? done(m) : m),
  }),
  'reads-too-little': () => ({
    foundBy: 'exact-bytes',
    answer: (m) => (m.argument instanceof Uint8Array ? {...m, argument: m.argument.slice(1)} : m),
  }),
  'takes-commands-as-throttle': () => ({
    foundBy: 'spin-values',
    request(m, {pass}) {
      const {commands} = (m.argument ?? {}) as {commands?: readonly {value: number}[]};
      const argument = {...(m.argument as object), commands: commands?.map((c) => ({...c, value: 0}))};
      pass(commands?.some(({value}) => value > 0 && value < 48) ? {...m, argument} : m);
    },
  }),
  'begins-turning': () => ({
    foundBy: 'spin-begin',
    answer: (m) => (m.operation === 'refused' && (m.argument as {code: string}).code === 'not-begun' ? done(m) : m),
  }),
  'loses-the-lease': () => {
    let renewals = 0;
    return {
      foundBy: 'spin-lease',
      request(m, {pass, after}) {
        pass(m);
        if (m.operation !== 'spin') return void (m.operation === 'spin.stop' && renewals++);
        const mine = ++renewals;
        const argument = m.argument as {sentMs: number};
        for (let ms = 100; ms <= 2_000; ms += 100)
          after(
            ms,
            () => mine === renewals && pass(own({...m, argument: {...argument, sentMs: argument.sentMs + ms}})),
          );
      },
    };
  },
  'keeps-any-burst': () => ({
    foundBy: 'burst-limits',
    answer: (m) =>
      m.operation === 'refused' && (m.argument as {code: string}).code === 'burst-too-long' ? done(m) : m,
  }),
  'spoils-pieces': () => ({
    foundBy: 'burst-read',
    answer(m) {
      const {bytes, crc32} = (m.argument ?? {}) as {bytes?: unknown; crc32?: unknown};
      if (!(bytes instanceof Uint8Array) || crc32 === undefined) return m;
      return {...m, argument: {bytes: bytes.map((b, i) => (i === 2 ? b ^ 8 : b)), crc32}};
    },
  }),
  'counts-gravity-twice': () => ({
    foundBy: 'attitude-at-rest',
    answer(m) {
      const {g} = (m.argument ?? {}) as {g?: readonly number[]};
      return g ? {...m, argument: {...(m.argument as object), g: g.map((v) => 2 * v)}} : m;
    },
  }),
  'tells-frames-twice': () => ({
    foundBy: 'frames-once',
    request(m, {pass}) {
      const argument = m.argument as {since?: number} | null;
      const since = Math.max(0, (argument?.since ?? 0) - 3);
      pass(m.operation === 'receiver.frames' ? {...m, argument: {...argument, since}} : m);
    },
  }),
  'arms-while-held': () => ({
    foundBy: 'disarmed-while-held',
    answer: (m) =>
      (m.argument as {blocks?: unknown} | null)?.blocks === undefined ? m : {...m, argument: {armed: true, blocks: []}},
  }),
  'sets-locked-fields': () => ({
    foundBy: 'locks-refuse',
    answer: (m) => (m.operation === 'refused' && (m.argument as {code: string}).code === 'locked' ? done(m) : m),
  }),
  'measures-half-the-time': () => ({
    foundBy: 'tasks-add-up',
    answer: (m) => (isTasks(m.argument) ? {...m, argument: m.argument.map((t) => ({...t, us: t.us / 2}))} : m),
  }),
  'counts-losses-twice': () => ({
    foundBy: 'losses-add-up',
    answer: (m) => (m.operation === 'report' ? {...m, argument: countedTwice(m.argument as Report)} : m),
  }),
  'loses-a-mixer-row': () => ({
    foundBy: 'mixer-rows',
    answer: (m) => (isMixer(m.argument) ? {...m, argument: m.argument.slice(1)} : m),
  }),
  'sends-full-throttle': () => ({
    foundBy: 'ends-power',
    request: (m, {pass, answer}) => (m.operation === 'ends.send' ? answer(done(m)) : pass(m)),
  }),
  'sounds-while-turning': () => ({
    foundBy: 'tone-stands',
    request: (m, {pass, answer}) => (m.operation === 'tone.sound' ? answer(done(m, 300)) : pass(m)),
  }),
  'forgets-the-stop': () => ({
    foundBy: 'spin-stop',
    request: (m, {pass, answer}) => (m.operation === 'spin.stop' ? answer(done(m)) : pass(m)),
  }),
  'takes-late-renewals': () => {
    let newest = 0;
    return {
      foundBy: 'spin-late',
      request(m, {pass}) {
        const argument = m.argument as {sentMs: number};
        if (m.operation !== 'spin') return pass(m);
        newest = Math.max(newest + 5, argument.sentMs);
        pass({...m, argument: {...argument, sentMs: newest}});
      },
    };
  },
  'forgets-hold-numbers': () => ({
    foundBy: 'spin-last-hold',
    answer: (m) =>
      (m.argument as {lastHold?: number} | null)?.lastHold === undefined
        ? m
        : {...m, argument: {...(m.argument as object), lastHold: 0}},
  }),
  'reports-for-ever': () => ({
    foundBy: 'reports',
    request: (m, {pass}) => pass(m.operation === 'reports' ? {...m, argument: {on: true}} : m),
  }),
};

export const faults: Readonly<Record<string, () => Fault>> = {...mistakes, ...lies, ...untidy};

/** A port to `bench` with the named fault in it. Throws on a name that is none. */
export function openFaultyPort(bench: SimulatedBench, name: string): BytePort {
  const make = faults[name];
  if (!make) throw new RangeError(`No fault is called "${name}"; there are ${Object.keys(faults).join(', ')}.`);
  const adapter = new FaultyAdapter(bench, make());
  return {
    readable: {getReader: () => ({read: () => adapter.read(), cancel: () => adapter.end()})},
    writable: {getWriter: () => ({write: (bytes) => adapter.hear(bytes), close: () => Promise.resolve()})},
  };
}

class FaultyAdapter {
  private readonly toBench = new SlipDecoder();
  private readonly toClient = new SlipDecoder();
  private readonly reader: ByteReader;
  private readonly writer: ByteWriter;
  private readonly ready: Uint8Array[] = [];
  private wake: (() => void) | undefined;
  private ended = false;
  private readonly between: Between;

  constructor(
    private readonly bench: SimulatedBench,
    private readonly fault: Fault,
  ) {
    const inner = openPort(bench);
    this.reader = inner.readable.getReader();
    this.writer = inner.writable.getWriter();
    this.between = {
      // What is under way when the cable is pulled is lost.
      pass: (message) => void this.writer.write(encodeMessage(message)).catch(() => undefined),
      answer: (message) => this.leave(message),
      after: (ms, callback) => void bench.time.after(ms, callback),
      bench,
    };
    void this.listen();
  }

  /** Bytes from the client. */
  hear(bytes: Uint8Array): Promise<void> {
    for (const frame of this.toBench.push(bytes)) {
      const message = decodeMessage(this.fault.mendsCrc ? mended(frame) : frame);
      if (typeof message === 'string') continue;
      if (this.fault.request) this.fault.request(message, this.between);
      else this.between.pass(message);
    }
    return Promise.resolve();
  }

  async read(): Promise<{done: boolean; value?: Uint8Array}> {
    while (!this.ready.length && !this.ended) await new Promise<void>((resolve) => (this.wake = resolve));
    const value = this.ready.shift();
    return value ? {done: false, value} : {done: true};
  }

  async end(): Promise<void> {
    await this.reader.cancel();
    this.fault.unplugged?.(this.between);
  }

  private async listen(): Promise<void> {
    for (;;) {
      const {done: isEnd, value} = await this.reader.read();
      if (isEnd) break;
      for (const frame of this.toClient.push(value!)) {
        const message = decodeMessage(frame);
        if (typeof message !== 'string' && !isOwn(message)) this.leave(message);
      }
    }
    this.ended = true;
    this.wake?.();
  }

  /** A message leaves for the client, as the fault bends it. */
  private leave(message: Message): void {
    const {fault} = this;
    const frame = encodeMessage(fault.answer?.(message) ?? message);
    const push = () => {
      this.ready.push(fault.frame?.(frame) ?? frame);
      this.wake?.();
    };
    if (fault.lateMs) this.bench.time.after(fault.lateMs, push);
    else push();
  }
}

/** A frame with the CRC that its body has. */
function mended(frame: Uint8Array): Uint8Array {
  const sum = crc16(frame.subarray(0, -2));
  return Uint8Array.of(...frame.subarray(0, -2), sum >> 8, sum & 0xff);
}
