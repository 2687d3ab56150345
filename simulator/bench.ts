/** The stand-in bench: speaks the bench link on one side, holds ESCs, motors and a flight controller on the other. */
import {crc32} from '@core/checksums';
import {eraseMs, wireMs, writeMsPer128Bytes} from '@core/firmware/chips';
import {decodeMessage, encodeMessage} from '@core/link/message';
import {
  operations,
  type Argument,
  type ControllerConfig,
  type ControllerIdentity,
  type Operation,
  type Power,
} from '@core/link/operations';
import {SlipDecoder} from '@core/link/slip';
import type {MotorConstants} from '@core/motor/motor';
import {Controller} from './controller';
import {Esc, type EscHardware} from './esc';
import {Mishaps} from './mishaps';
import {PowerTrain, type Supply} from './power-train';
import {Random} from './random';
import type {VirtualTime} from './virtual-time';

export interface BenchSetup {
  readonly seed: number;
  readonly escs: readonly {
    readonly hardware: EscHardware;
    readonly flash: Uint8Array;
    readonly motor: MotorConstants;
    readonly wiredClockwise: boolean;
  }[];
  readonly controller: {readonly identity: ControllerIdentity; readonly saved: ControllerConfig};
  readonly supply: Omit<Supply, 'on'>;
  readonly batteryOn: boolean;
  readonly cycles: number;
}

/** Told of everything that outlives a power cut, so that a shell may keep it. */
export interface BenchKeeper {
  page(output: number, page: number, bytes: Uint8Array): void;
  controller(config: ControllerConfig): void;
  power(on: boolean, cycles: number): void;
}

/** A command on an ESC's single wire that is not finished. */
interface WireJob {
  readonly cancel: () => void;
  readonly refuse: (code: string, text: string) => void;
  /** Flash touched from `from` to `to` on the clock. */
  readonly flash?: {
    readonly from: number;
    readonly to: number;
    readonly address: number;
    readonly length: number;
  };
}

type Reply = (operation: 'done' | 'refused', argument: unknown) => void;

const adapterMs = 0.3;
const restartMs = 300;
const startUpMs = 400;
/** Reports while a motor turns, and at rest. */
const reportEveryMs = 20;
const idleReportEveryMs = 200;
const answersKept = 64;

export class SimulatedBench {
  readonly escs: readonly Esc[];
  readonly controller: Controller;
  readonly train: PowerTrain;
  readonly mishaps: Mishaps;
  private readonly random: Random;
  private readonly supply: Supply;
  private readonly jobs: Set<WireJob>[];
  private readonly wireFreeAt: number[];
  private cycles: number;
  private link: Link | undefined;
  private reportsOn = false;
  private tickTimer: {everyMs: number; cancel: () => void} | undefined;
  private countedTo = 0;

  constructor(
    setup: BenchSetup,
    readonly time: VirtualTime,
    private readonly keeper?: BenchKeeper,
  ) {
    this.random = new Random(setup.seed);
    this.mishaps = new Mishaps(new Random(setup.seed ^ 0x5eed));
    this.supply = {...setup.supply, on: setup.batteryOn};
    this.cycles = setup.cycles;
    this.escs = setup.escs.map(({hardware, flash}, output) => {
      const esc: Esc = new Esc(hardware, flash, (page) => {
        const {pageBytes} = esc.chip;
        keeper?.page(output, page, esc.flash.read(page * pageBytes, pageBytes));
      });
      if (setup.batteryOn) esc.start();
      return esc;
    });
    this.jobs = this.escs.map(() => new Set());
    this.wireFreeAt = this.escs.map(() => 0);
    this.controller = new Controller(setup.controller.identity, setup.controller.saved, (config) =>
      keeper?.controller(config),
    );
    const outputs = this.escs.map((esc, i) => ({
      esc,
      motor: setup.escs[i]!.motor,
      wiredClockwise: setup.escs[i]!.wiredClockwise,
    }));
    this.train = new PowerTrain(outputs, this.controller, this.supply, this.random);
  }

  get isBatteryOn(): boolean {
    return this.supply.on;
  }

  /** True while a command is under way on any wire: a fast clock may jump to its end. */
  get isBusy(): boolean {
    return this.jobs.some((jobs) => jobs.size > 0);
  }

  /** Plugs the cable in. `send` gets what the bench says, `onEnd` that the cable went out. */
  attach(send: (bytes: Uint8Array) => void, onEnd: () => void): void {
    this.detach();
    this.link = {decoder: new SlipDecoder(), send, onEnd, answers: new Map()};
  }

  /** Pulls the cable. Motors stop when their lease ends. */
  detach(): void {
    const link = this.link;
    this.link = undefined;
    this.reportsOn = false;
    link?.onEnd();
  }

  setBattery(on: boolean): void {
    if (on === this.supply.on) return;
    this.supply.on = on;
    if (on) this.cycles++;
    this.keeper?.power(on, this.cycles);
    if (on)
      for (const esc of this.escs)
        this.time.after(startUpMs, () => this.supply.on && esc.state === 'off' && esc.start());
    else this.cutPower();
  }

  /** Bytes from the client. */
  receive(bytes: Uint8Array): void {
    const link = this.link;
    if (!link) return;
    for (const frame of link.decoder.push(this.mishaps.spoil(bytes))) {
      const message = decodeMessage(frame);
      if (typeof message !== 'string') this.take(link, message.sequence, message.operation, message.argument);
    }
  }

  private cutPower(): void {
    const now = this.time.now();
    this.train.stop();
    this.escs.forEach((esc, output) => {
      for (const job of this.jobs[output]!) {
        job.cancel();
        const {flash} = job;
        if (flash && flash.from <= now && now < flash.to) esc.flash.scramble(flash.address, flash.length, this.random);
        job.refuse('no-power', `Motor ${output + 1} fell silent in the middle of a command: its power is gone.`);
      }
      this.jobs[output]!.clear();
      this.wireFreeAt[output] = now;
      esc.powerOff();
    });
  }

  private take(link: Link, sequence: number, operation: string, argument: unknown): void {
    const known = link.answers.get(sequence);
    if (known !== undefined) {
      // A repeat: the answer was lost, or is still on its way. Nothing is done twice.
      if (known) this.send(link, known);
      return;
    }
    link.answers.set(sequence, null);
    if (link.answers.size > answersKept) link.answers.delete(link.answers.keys().next().value!);
    const reply: Reply = (kind, value) => {
      const frame = encodeMessage({sequence, operation: kind, argument: value});
      if (link.answers.has(sequence)) link.answers.set(sequence, frame);
      this.time.after(adapterMs, () => this.send(link, frame));
    };
    const refuse = (code: string, text: string) => reply('refused', {code, text});
    if (!(operation in operations)) return refuse('unknown-operation', `This bench does not know "${operation}".`);
    const parsed = operations[operation as Operation].argument.safeParse(argument);
    if (!parsed.success) return refuse('bad-argument', parsed.error.issues[0]?.message ?? 'not understood');
    this.handle({operation, argument: parsed.data} as Call, reply, refuse);
  }

  private handle(call: Call, reply: Reply, refuse: (code: string, text: string) => void): void {
    switch (call.operation) {
      case 'hello':
        return reply('done', {
          link: 1,
          adapter: 'Simulated bench',
          outputs: this.escs.length,
          startId: 'simulator',
        });
      case 'power':
        return reply('done', this.power());
      case 'reports':
        this.reportsOn = call.argument.on;
        if (this.reportsOn) this.startReports();
        return reply('done', null);
      case 'controller.identify':
        return reply('done', this.controller.identity);
      case 'controller.read':
        return reply('done', this.controller.pending);
      case 'controller.set':
        this.controller.set(call.argument);
        return reply('done', null);
      case 'controller.save':
        this.controller.save();
        return reply('done', null);
      case 'controller.restart':
        this.train.stop();
        this.time.after(restartMs, () => {
          this.controller.restart();
          reply('done', null);
        });
        return;
      case 'spin':
        return this.spin(call.argument, reply);
      default:
        return this.escCommand(call, reply, refuse);
    }
  }

  private spin({leaseMs, commands}: Argument<'spin'>, reply: Reply): void {
    this.countUp();
    this.train.stop();
    const ends = this.time.now() + leaseMs;
    for (const {output, value} of commands) this.train.command(output, value, ends);
    this.startReports();
    reply('done', null);
  }

  private escCommand(call: EscCall, reply: Reply, refuse: (code: string, text: string) => void): void {
    const {output} = call.argument;
    const esc = this.escs[output];
    const name = `Motor ${output + 1}`;
    if (!esc) return refuse('no-output', `There is no output ${output + 1}.`);
    if (!this.supply.on || esc.burnt) return refuse('no-power', `${name} is silent: its ESC has no power.`);
    if (this.train.outputs[output]!.throttle > 0) return refuse('turning', `${name} is turning.`);
    if (call.operation === 'esc.enter')
      return this.wire(
        output,
        {inMs: 40, outMs: wireMs(esc.chip, 24)},
        () => {
          esc.state = 'bootloader';
          const {serial, bootRevision, dialect, chip} = esc.hardware;
          reply('done', {chip, serial, bootRevision, dialect, applicationValid: esc.applicationValid});
        },
        refuse,
      );
    if (esc.state !== 'bootloader') return refuse('not-in-bootloader', `${name} is not in its bootloader.`);
    switch (call.operation) {
      case 'esc.leave':
        return this.wire(
          output,
          {inMs: 40, outMs: 0},
          () => {
            esc.start();
            reply('done', null);
          },
          refuse,
        );
      case 'esc.read': {
        const {address, length} = call.argument;
        if (address + length > esc.chip.flashBytes)
          return refuse('bad-address', `${name} has no address ${address + length - 1}.`);
        return this.wire(
          output,
          {inMs: wireMs(esc.chip, 0), outMs: wireMs(esc.chip, length)},
          () => reply('done', esc.flash.read(address, length)),
          refuse,
        );
      }
      case 'esc.checksum': {
        const {address, length} = call.argument;
        if (!esc.chip.canChecksum) return refuse('unsupported', `${name}: this bootloader cannot compute checksums.`);
        if (address + length > esc.chip.flashBytes)
          return refuse('bad-address', `${name} has no address ${address + length - 1}.`);
        const computeMs = length / 4096;
        return this.wire(
          output,
          {inMs: wireMs(esc.chip, 0) / 2, outMs: wireMs(esc.chip, 4) / 2 + computeMs},
          () => reply('done', crc32(esc.flash.read(address, length))),
          refuse,
        );
      }
      case 'esc.erase': {
        const {pageBytes} = esc.chip;
        const address = Math.floor(call.argument.address / pageBytes) * pageBytes;
        const bad = esc.writeRefusal({start: address, end: address + pageBytes});
        if (bad) return refuse(bad, `${name} does not erase 0x${address.toString(16)}.`);
        return this.wire(
          output,
          {inMs: wireMs(esc.chip, 0), flashMs: eraseMs, address, length: pageBytes, outMs: 0},
          () => {
            esc.flash.erase(address);
            reply('done', null);
          },
          refuse,
        );
      }
      case 'esc.write': {
        const {address, bytes} = call.argument;
        const bad = esc.writeRefusal({start: address, end: address + bytes.length});
        if (bad) return refuse(bad, `${name} does not write 0x${address.toString(16)}.`);
        const flashMs = (bytes.length / 128) * writeMsPer128Bytes;
        return this.wire(
          output,
          {inMs: wireMs(esc.chip, bytes.length), flashMs, address, length: bytes.length, outMs: 0},
          () => {
            esc.flash.write(address, bytes);
            reply('done', null);
          },
          refuse,
        );
      }
    }
  }

  /** Queues a command on an output's single wire: bytes in, flash work, bytes out. */
  private wire(output: number, t: WireTiming, finish: () => void, refuse: WireJob['refuse']): void {
    const now = this.time.now();
    const begin = Math.max(now, this.wireFreeAt[output]!);
    const flashFrom = begin + t.inMs;
    const flashTo = flashFrom + (t.flashMs ?? 0);
    const end = flashTo + t.outMs;
    this.wireFreeAt[output] = end;
    const jobs = this.jobs[output]!;
    const cancels = [
      this.time.after(end - now, () => {
        jobs.delete(job);
        finish();
      }),
    ];
    const flash = t.flashMs ? {from: flashFrom, to: flashTo, address: t.address!, length: t.length!} : undefined;
    const job: WireJob = {cancel: () => cancels.forEach((c) => c()), refuse, ...(flash && {flash})};
    jobs.add(job);
  }

  private power(): Power {
    return {
      volts: Math.round(this.train.volts * 100) / 100,
      amps: Math.round(this.train.amps * 100) / 100,
      cycles: this.cycles,
    };
  }

  /** Plans the next tick; a motor that starts does not wait for the slow one. */
  private startReports(): void {
    const everyMs = this.train.isActive ? reportEveryMs : idleReportEveryMs;
    if (this.tickTimer && this.tickTimer.everyMs <= everyMs) return;
    if (this.tickTimer) this.countUp();
    this.tickTimer?.cancel();
    this.tickTimer = {everyMs, cancel: this.time.after(everyMs, () => this.tick())};
  }

  /** Brings motors and reply counters up to now. */
  private countUp(): void {
    const now = this.time.now();
    const passed = Math.min(idleReportEveryMs, Math.round(now - this.countedTo));
    this.countedTo = now;
    for (let ms = passed - 1; ms >= 0 && this.train.isActive; ms--) this.train.step(now - ms);
    this.train.countReplies(passed);
  }

  private tick(): void {
    this.tickTimer = undefined;
    this.countUp();
    if (this.reportsOn || this.train.isActive) this.startReports();
    const link = this.link;
    if (!link || !this.reportsOn) return;
    const motors = this.train.outputs.map((o, i) => ({
      erpm: this.train.erpm(i),
      throttle: o.throttle,
      asked: o.asked,
      lost: o.lost,
    }));
    const argument = {
      atMs: this.time.now(),
      power: this.power(),
      load: this.controller.budget(this.escs.length).load,
      motors,
    };
    this.send(link, encodeMessage({sequence: 0, operation: 'report', argument}));
  }

  private send(link: Link, frame: Uint8Array): void {
    if (link === this.link) link.send(this.mishaps.spoil(frame));
  }
}

interface Link {
  readonly decoder: SlipDecoder;
  readonly send: (bytes: Uint8Array) => void;
  readonly onEnd: () => void;
  /** Answers by sequence number, so that a repeat does nothing twice; null while under way. */
  readonly answers: Map<number, Uint8Array | null>;
}

interface WireTiming {
  readonly inMs: number;
  readonly flashMs?: number;
  readonly outMs: number;
  readonly address?: number;
  readonly length?: number;
}

type Call = {[O in Operation]: {operation: O; argument: Argument<O>}}[Operation];
type EscCall = Extract<Call, {operation: `esc.${string}`}>;
