/**
 * The stand-in bench behind an adapter that does one thing wrong, chosen by name: what the conformance check must find.
 * Requests and answers pass through it as messages, so that a fault is a few lines.
 */
import {decodeMessage, encodeMessage, type Message} from '@core/link/message';
import type {BytePort} from '@core/link/port';
import {SlipDecoder} from '@core/link/slip';
import {crc16} from '@core/checksums';
import type {SimulatedBench} from '../hardware/bench';
import {openPort} from '../hardware/port';
import {withWrongCrc} from '@core/conformance/framing';

/** What a fault can do between the two sides. */
interface Between {
  /** Sends a message on to the bench. */
  readonly pass: (message: Message) => void;
  /** Answers the client in the bench's place. */
  readonly answer: (message: Message) => void;
  readonly after: (ms: number, callback: () => void) => void;
}

interface Fault {
  /** The rule that finds it. */
  readonly foundBy: string;
  /** Takes a request instead of it being passed on. */
  request?(message: Message, between: Between): void;
  /** The answer that leaves instead. */
  answer?(message: Message): Message;
  /** The frame that leaves instead. */
  frame?(frame: Uint8Array): Uint8Array;
  /** Frames with a wrong CRC are mended instead of dropped. */
  readonly mendsCrc?: true;
  /** Time by which answers are late, ms. */
  readonly lateMs?: number;
}

const done = ({sequence}: Message, argument: unknown = null): Message => ({sequence, operation: 'done', argument});
/** Requests of its own: numbers that no client of a test comes to. */
let ownNumber = 60_000;
const own = (message: Message): Message => ({
  ...message,
  sequence: ownNumber < 65_000 ? ownNumber++ : (ownNumber = 60_000),
});
const isOwn = ({sequence}: Message) => sequence >= 60_000 && sequence <= 65_000;

export const faults: Readonly<Record<string, () => Fault>> = {
  'answers-with-wrong-crc': () => ({foundBy: 'answer-frames', frame: withWrongCrc}),
  'hears-wrong-crc': () => ({foundBy: 'frame-crc', mendsCrc: true}),
  'speaks-any-version': () => ({
    foundBy: 'hello-version',
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

/** A port to `bench` with the named fault in it. Throws on a name that is none. */
export function openFaultyPort(bench: SimulatedBench, name: string): BytePort {
  const make = faults[name];
  if (!make) throw new RangeError(`No fault is called "${name}"; there are ${Object.keys(faults).join(', ')}.`);
  const fault = make();
  const inner = openPort(bench);
  const reader = inner.readable.getReader();
  const writer = inner.writable.getWriter();
  const [toBench, toClient] = [new SlipDecoder(), new SlipDecoder()];
  const ready: Uint8Array[] = [];
  let wake: (() => void) | undefined;
  let ended = false;

  const leave = (message: Message) => {
    const told = fault.answer?.(message) ?? message;
    const frame = encodeMessage(told);
    const push = () => {
      ready.push(fault.frame?.(frame) ?? frame);
      wake?.();
    };
    if (fault.lateMs) bench.time.after(fault.lateMs, push);
    else push();
  };
  const between: Between = {
    // What is under way when the cable is pulled is lost.
    pass: (message) => void writer.write(encodeMessage(message)).catch(() => undefined),
    answer: leave,
    after: (ms, callback) => void bench.time.after(ms, callback),
  };
  const listen = async () => {
    for (;;) {
      const {done: end, value} = await reader.read();
      if (end) break;
      for (const frame of toClient.push(value!)) {
        const message = decodeMessage(frame);
        if (typeof message !== 'string' && !isOwn(message)) leave(message);
      }
    }
    ended = true;
    wake?.();
  };
  void listen();

  const hear = (frame: Uint8Array) => {
    const message = decodeMessage(fault.mendsCrc ? mended(frame) : frame);
    if (typeof message === 'string') return;
    if (fault.request) fault.request(message, between);
    else between.pass(message);
  };
  return {
    readable: {
      getReader: () => ({
        async read() {
          while (!ready.length && !ended) await new Promise<void>((resolve) => (wake = resolve));
          const value = ready.shift();
          return value ? {done: false, value} : {done: true};
        },
        cancel: () => reader.cancel(),
      }),
    },
    writable: {
      getWriter: () => ({
        write(bytes) {
          for (const frame of toBench.push(bytes)) hear(frame);
          return Promise.resolve();
        },
        close: () => writer.close(),
      }),
    },
  };
}

/** A frame with the CRC that its body has. */
function mended(frame: Uint8Array): Uint8Array {
  const sum = crc16(frame.subarray(0, -2));
  return Uint8Array.of(...frame.subarray(0, -2), sum >> 8, sum & 0xff);
}
