/** Adapters that say one thing and do another: what they answer looks right, what the hardware does is not. */
import type {Message} from '@core/link/message';
import type {Report} from '@core/link/operations';
import {done, own, type Between, type Fault} from './fault';

interface Commands {
  readonly hold: number;
  readonly sentMs: number;
  readonly commands: readonly {readonly output: number; readonly value: number}[];
}
const isSpin = (m: Message): m is Message & {argument: Commands} => m.operation === 'spin';
const isReport = (m: Message): m is Message & {argument: Report} => m.operation === 'report';
const refusedWith = (m: Message, code: string) =>
  m.operation === 'refused' && (m.argument as {code: string}).code === code;
/** For so long a motor that should have stopped is kept on, ms, and how often it is renewed. */
const [keptMs, everyMs] = [2_000, 100];

/** Goes on with `last` by itself until it is told otherwise. */
function keepOn({pass, after}: Between, last: Message & {argument: Commands}, isOver: () => boolean): void {
  const commands = last.argument.commands;
  for (let ms = everyMs; ms <= keptMs; ms += everyMs)
    after(ms, () => {
      if (!isOver()) pass(own({...last, argument: {...last.argument, commands, sentMs: last.argument.sentMs + ms}}));
    });
}

const swapped = (output: number) => (output === 2 ? 3 : output === 3 ? 2 : output);

export const lies: Readonly<Record<string, () => Fault>> = {
  'erases-its-bootloader': () => ({
    foundBy: 'bootloader-erase',
    request(m, {pass, answer, bench}) {
      const {output, address} = (m.argument ?? {}) as {output: number; address: number};
      const esc = bench.escs[output];
      const isInside = esc && address >= esc.chip.bootloader.start && address < esc.chip.bootloader.end;
      if (m.operation !== 'esc.erase' || !isInside) return pass(m);
      answer(done(m));
    },
  }),
  'leases-one-output': () => {
    let newest = 0;
    return {
      foundBy: 'spin-lease',
      request(m, between) {
        between.pass(m);
        if (m.operation === 'spin.stop') newest++;
        if (!isSpin(m)) return;
        const mine = ++newest;
        const commands = m.argument.commands.filter((c) => c.output > 0);
        keepOn(between, {...m, argument: {...m.argument, commands}}, () => mine !== newest);
      },
    };
  },
  'stops-one-output': () => {
    let last: (Message & {argument: Commands}) | undefined;
    let newest = 0;
    return {
      foundBy: 'spin-stop',
      request(m, between) {
        if (isSpin(m)) [last, newest] = [m, newest + 1];
        if (m.operation !== 'spin.stop' || !last?.argument.commands.some((c) => c.value)) return between.pass(m);
        const mine = ++newest;
        const commands = last.argument.commands.filter((c) => c.output > 0);
        const rest = {...last, argument: {...last.argument, commands}};
        last = undefined;
        between.pass(own(rest));
        keepOn(between, rest, () => mine !== newest);
        between.answer(done(m));
      },
    };
  },
  'turns-without-cable': () => {
    let turned: Commands['commands'] = [];
    return {
      foundBy: 'spin-cable',
      request(m, {pass}) {
        if (isSpin(m)) turned = m.argument.commands;
        if (m.operation === 'spin.stop') turned = [];
        pass(m);
      },
      unplugged({bench}) {
        const leaseEnds = bench.time.now() + keptMs;
        for (const {output, value} of turned) bench.train.command(output, value, {leaseEnds, added: undefined});
      },
    };
  },
  'revives-holds': () => {
    const numbers = new Map<number, number>();
    let [highest, turnedAt] = [0, -Infinity];
    return {
      foundBy: 'spin-ended',
      request(m, {pass, bench}) {
        if (!isSpin(m)) return pass(m);
        const {hold} = m.argument;
        const now = bench.time.now();
        highest = Math.max(highest, numbers.get(hold) ?? hold);
        if (numbers.has(hold) && now - turnedAt > 450) {
          numbers.set(hold, ++highest);
          pass(own({...m, argument: {...m.argument, hold: highest, commands: []}}));
        }
        const number = numbers.get(hold) ?? hold;
        numbers.set(hold, number);
        turnedAt = now;
        pass({...m, argument: {...m.argument, hold: number}});
      },
    };
  },
  'reports-rest-while-turning': () => {
    let last: (Message & {argument: Commands}) | undefined;
    let [newest, isHiding] = [0, false];
    return {
      foundBy: 'spin-stop',
      request(m, between) {
        if (isSpin(m)) [last, isHiding, newest] = [m, false, newest + 1];
        if (m.operation !== 'spin.stop' || !last?.argument.commands.some((c) => c.value)) return between.pass(m);
        const mine = ++newest;
        isHiding = true;
        keepOn(between, last, () => mine !== newest);
        between.answer(done(m));
      },
      answer(m) {
        if (!isHiding || !isReport(m)) return m;
        const motors = m.argument.motors.map((motor) => ({
          ...motor,
          throttle: 0,
          erpm: motor.erpm === null ? null : 0,
        }));
        return {...m, argument: {...m.argument, power: {...m.argument.power, amps: 0.3}, motors}};
      },
    };
  },
  'writes-again-later': () => ({
    foundBy: 'writes-once',
    request(m, {pass, after}) {
      pass(m);
      if (m.operation === 'esc.write') after(6_000, () => pass(own(m)));
    },
  }),
  'saves-nothing': () => ({
    foundBy: 'save-keeps',
    request: (m, {pass, answer}) => (m.operation === 'controller.save' ? answer(done(m)) : pass(m)),
  }),
  'loader-writes-nothing': () => ({
    foundBy: 'loader-writes',
    request(m, {pass, answer}) {
      if (m.operation !== 'loader.download') return pass(m);
      const {block} = m.argument as {block: number};
      answer(done(m, {state: 'dfuDNLOAD-IDLE', fault: 'OK', next: block + 1}));
    },
  }),
  'sums-the-first-page': () => ({
    foundBy: 'checksum',
    request(m, {pass, bench}) {
      const {output, length} = (m.argument ?? {}) as {output: number; length: number};
      const page = bench.escs[output]?.chip.pageBytes ?? length;
      const argument = {...(m.argument as object), length: Math.min(length, page)};
      pass(m.operation === 'esc.checksum' ? {...m, argument} : m);
    },
  }),
  'swaps-outputs': () => ({
    foundBy: 'spin-outputs',
    request(m, {pass}) {
      if (!isSpin(m)) return pass(m);
      const commands = m.argument.commands.map((c) => ({...c, output: swapped(c.output)}));
      pass({...m, argument: {...m.argument, commands}});
    },
    answer(m) {
      if (!isReport(m)) return m;
      const {motors} = m.argument;
      return {...m, argument: {...m.argument, motors: motors.map((motor, i) => motors[swapped(i)] ?? motor)}};
    },
  }),
  'locks-holds-out': () => {
    let isLocked = false;
    return {
      foundBy: 'spin-stop-highest',
      request: (m, {pass}) => pass(m),
      answer(m) {
        if (refusedWith(m, 'hold-too-high')) isLocked = true;
        if (!isLocked) return m;
        const {lastHold} = (m.argument ?? {}) as {lastHold?: number};
        if (lastHold !== undefined) return {...m, argument: {...(m.argument as object), lastHold: 0xffffffff}};
        return refusedWith(m, 'hold-too-high') ? {...m, operation: 'done', argument: null} : m;
      },
    };
  },
  'takes-any-stream': () => ({foundBy: 'first-byte', door: {takesAnything: true}}),
  'lets-a-second-in': () => ({foundBy: 'one-client', door: {takesSeveral: true}}),
};
