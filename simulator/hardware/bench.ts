/** The stand-in bench: speaks the bench link on one side, holds ESCs, motors and a flight controller on the other. */
import {decodeMessage, encodeMessage} from '@core/link/message';
import {operations, type Argument, type Dialect, type Operation, type Road} from '@core/link/operations';
import {isBesideSpin, locksOf, takeBesideSpin, type Asked, type BesideSpin} from './wires/beside-spin';
import {takeBurstCommand, type BurstCall} from './wires/burst-commands';
import {Cockpit, sharedValue, usualCockpit} from './hands/cockpit';
import type {BenchKeeper, BenchSetup} from './bench-setup';
import {BurstMemory} from './wires/burst-memory';
import type {Controller} from './controller/controller';
import {ControllerBoard, isOfBoard, type BoardCall} from './controller/controller-board';
import {Esc} from './esc/esc';
import {takeEscCommand, type EscCall} from './esc/esc-commands';
import {escOnWire} from './esc/esc-on-wire';
import {EndPoints} from './hands/end-points';
import {greeting} from './controller/greeting';
import {holdRefusals, Holds} from './controller/holds';
import {LinkEnd} from './wires/link-end';
import {refusedByLock} from './controller/locks';
import type {Loader} from './controller/loader';
import {Mishaps} from './hands/mishaps';
import {PowerTrain, type Supply} from './esc/power-train';
import {Random} from '../random';
import type {VirtualTime} from '@core/link/virtual-time';
import {WindUp} from './esc/wind-up';
import {WireRecorder} from './wires/wire-recorder';
import {Wires} from './wires/wires';

type Reply = (operation: 'done' | 'refused', argument: unknown) => void;
type Refuse = (code: string, text: string) => void;

const adapterMs = 0.3;
const noAnswerMs = 60;
const startUpMs = 400;
/** Reports while a motor turns, and at rest. */
const [reportEveryMs, idleReportEveryMs] = [20, 200];

/** Operations that only a flight controller carries out. */
const behindController =
  /^(spin|controller|loader|burst|attitude|receiver|arming|locks|tasks|mixer|ends|tone|settings)\b/;

export class SimulatedBench {
  readonly escs: Esc[];
  readonly board: ControllerBoard;
  readonly train: PowerTrain;
  readonly mishaps: Mishaps;
  readonly cockpit: Cockpit;
  private readonly random: Random;
  private readonly supply: Supply;
  private readonly wires: Wires;
  private readonly holds = new Holds();
  private readonly burst: BurstMemory;
  private readonly ends: EndPoints;
  /** Arm that the motor of each output sits on. */
  readonly arms: number[];
  /** Tones that motors have sounded. */
  readonly sounded: Argument<'tone.sound'>[] = [];
  /** Whether it says that it stands in for hardware. */
  readonly standIn: boolean = true;
  /** Version of the bench link that it speaks. */
  readonly linkVersion: number = 1;
  /** Where the cable is plugged in; moving it ends the connection. */
  road: Road;
  /** Output whose ESC the single-wire adapter is clipped to. */
  clippedTo: number | undefined;
  private adapterDialect: Dialect = 'A';
  private cycles: number;
  private link: LinkEnd | undefined;
  /** Whether its line still carries what was sent before. */
  isLineBusy: () => boolean = () => false;
  private reportsOn = false;
  private tickTimer: {everyMs: number; cancel: () => void} | undefined;
  private countedTo = 0;
  /** Whether the hold of now lets the receiver's fail-safe act. */
  private heedsReceiver = false;
  private readonly windUp: WindUp;

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
    this.road = setup.road;
    this.burst = new BurstMemory(this.escs.length);
    this.wires = new Wires(time, this.escs.length);
    this.ends = new EndPoints(time);
    this.cockpit = new Cockpit(setup.cockpit ?? usualCockpit, setup.seed);
    this.arms = [...(setup.arms ?? this.escs.map((_, output) => output))];
    this.windUp = new WindUp(new Random(setup.seed ^ 0xd21f));
    this.board = new ControllerBoard(setup, keeper, this.random);
    const outputs = this.escs.map((esc, i) => ({
      esc,
      motor: setup.escs[i]!.motor,
      wiredClockwise: setup.escs[i]!.wiredClockwise,
    }));
    this.train = new PowerTrain(outputs, this.controller, this.supply, this.random);
  }

  get controller(): Controller {
    return this.board.controller;
  }

  get loader(): Loader {
    return this.board.loader;
  }

  get isBatteryOn(): boolean {
    return this.supply.on;
  }

  /** True while a command is under way on any wire: a fast clock may jump to its end. */
  get isBusy(): boolean {
    return this.wires.isBusy;
  }

  /** Plugs the cable in. `send` gets what the bench says, `onEnd` that the cable went out. */
  attach(send: (bytes: Uint8Array) => void, onEnd: () => void): void {
    this.detach();
    this.link = new LinkEnd(send, onEnd);
  }

  /** Pulls the cable. Motors stop when their lease ends. */
  detach(): void {
    const link = this.link;
    this.link = undefined;
    this.reportsOn = false;
    // The flight controller gets its power over the cable.
    if (link && this.loader.isActive && this.road === 'controller') this.board.powerUp();
    link?.onEnd();
  }

  setBattery(on: boolean): void {
    if (on === this.supply.on) return;
    this.supply.on = on;
    if (on) this.cycles++;
    this.keeper?.power(on, this.cycles);
    if (on)
      for (const esc of this.escs)
        this.time.after(startUpMs, () => {
          if (!this.supply.on || esc.state !== 'off') return;
          esc.start();
          this.ends.started(esc);
        });
    else this.cutPower();
  }

  /** Sets the battery's open-circuit voltage, V: a pack that runs empty. */
  setVolts(volts: number): void {
    this.supply.volts = volts;
  }

  /** Moves the cable to the flight controller or to the adapter. */
  plugInto(road: Road): void {
    if (road === this.road) return;
    this.road = road;
    this.detach();
  }

  /** Records every motor wire for so long from now, ms. */
  record(ms: number, done: (recorder: WireRecorder) => void): void {
    this.countUp();
    const recorder = new WireRecorder(this.escs.length, this.time.now(), new Random(this.cycles ^ 0x3c0d));
    this.train.recorder = recorder;
    this.startReports();
    this.time.after(ms, () => {
      this.countUp();
      this.train.recorder = undefined;
      done(recorder);
    });
  }

  /** Someone swaps the plugs of two ESCs; the motors go with them. */
  swapEscs(a: number, b: number): void {
    const {outputs} = this.train;
    [this.escs[a], this.escs[b]] = [this.escs[b]!, this.escs[a]!];
    [outputs[a], outputs[b]] = [outputs[b]!, outputs[a]!];
    [this.arms[a], this.arms[b]] = [this.arms[b]!, this.arms[a]!];
  }

  /** The flight controller restarts by itself: commands under way are lost, the USB connection ends. */
  restartController(): void {
    this.endHolds();
    this.escs.forEach((_, output) => this.wires.cut(output));
    this.board.powerUp();
    this.detach();
  }

  /** Bytes from the client. */
  receive(bytes: Uint8Array): void {
    const {link} = this;
    if (!link) return;
    const echoMs = this.mishaps.echo();
    if (echoMs !== undefined) this.time.after(echoMs, () => link === this.link && this.hear(link, bytes));
    this.hear(link, bytes);
  }

  private hear(link: LinkEnd, bytes: Uint8Array): void {
    if (this.board.isSilent && this.road === 'controller') return;
    for (const frame of link.decoder.push(this.mishaps.spoil(bytes))) {
      const message = decodeMessage(frame);
      if (typeof message !== 'string') this.take(link, message.sequence, message.operation, message.argument);
    }
  }

  private cutPower(): void {
    this.endHolds();
    this.escs.forEach((esc, output) => {
      for (const {address, length} of this.wires.cut(output)) esc.flash.scramble(address, length, this.random);
      esc.powerOff();
    });
  }

  private take(link: LinkEnd, sequence: number, operation: string, argument: unknown): void {
    const asked = argument as {readonly client?: unknown} | null | undefined;
    if (operation === 'hello' && link.greetedBy(asked?.client)) this.reportsOn = false;
    const {client} = link;
    const known = link.answers.find(operation, sequence);
    if (known !== undefined) {
      // A repeat: the answer was lost, or is still on its way. Nothing is done twice.
      if (known) this.send(link, known);
      return;
    }
    const isAgain = link.answers.begin(operation, sequence, this.mishaps.forgetful);
    if (isAgain) this.keeper?.repeated?.(argument);
    const reply: Reply = (kind, value) => {
      const frame = encodeMessage({sequence, operation: kind, argument: value});
      if (link.client === client) link.answers.keep(operation, sequence, frame);
      this.time.after(adapterMs, () => link.client === client && this.send(link, frame));
    };
    const refuse = (code: string, text: string) => reply('refused', {code, text});
    if (!(operation in operations)) return refuse('unknown-operation', `This bench does not know "${operation}".`);
    const parsed = operations[operation as Operation].argument.safeParse(argument);
    if (!parsed.success) return refuse('bad-argument', parsed.error.issues[0]?.message ?? 'not understood');
    this.handle({operation, argument: parsed.data} as Call, reply, refuse);
  }

  private handle(call: Call, reply: Reply, refuse: Refuse): void {
    const onAdapter = this.road === 'single-wire';
    if (onAdapter && behindController.test(call.operation))
      return refuse('no-controller', 'A single-wire adapter has no flight controller behind it.');
    if (!onAdapter && this.board.refuses(call.operation))
      return refuse('in-loader', 'The flight controller is in its loader: no firmware runs on it.');
    if (isOfBoard(call)) return this.boardCommand(call, reply, refuse);
    if (isBesideSpin(call)) return this.besideSpin(call, reply, refuse);
    switch (call.operation) {
      case 'hello':
        return this.hello(call.argument, reply, refuse);
      case 'power':
        return reply('done', this.train.power(this.cycles));
      case 'adapter.dialect':
        if (!onAdapter) return refuse('unsupported', 'A flight controller finds the dialect by itself.');
        this.adapterDialect = call.argument.dialect;
        return reply('done', null);
      case 'reports':
        if ((this.reportsOn = call.argument.on)) this.startReports();
        return reply('done', null);
      case 'spin':
        return this.spin(call.argument, reply, refuse);
      case 'burst.start':
      case 'burst.state':
      case 'burst.read':
        return this.burstCommand(call, reply, refuse);
      case 'spin.stop':
        return this.stopHold(call.argument.hold, reply, refuse);
      default:
        return this.escCommand(call, reply, refuse);
    }
  }

  private stopHold(hold: number, reply: Reply, refuse: Refuse): void {
    this.countUp();
    if (this.holds.isTooHigh(hold)) {
      this.endHolds();
      return refuse('hold-too-high', holdRefusals['hold-too-high']);
    }
    if (this.holds.end(hold)) this.train.stop();
    reply('done', null);
  }

  private boardCommand(call: BoardCall, reply: Reply, refuse: Refuse): void {
    if (call.operation === 'controller.set') {
      const locked = refusedByLock(call.argument, this.controller.pending, locksOf(this.asked()));
      if (locked) return refuse('locked', locked);
    }
    this.board.take(call, {
      locks: locksOf(this.asked()),
      ...{refuse, done: (value) => reply('done', value), endHolds: () => this.endHolds()},
      after: (ms, callback) => this.time.after(ms, callback),
    });
  }

  private hello(asked: Argument<'hello'>, reply: Reply, refuse: Refuse): void {
    if (asked && !asked.speaks.includes(this.linkVersion))
      return refuse('link-version', `This bench speaks version ${this.linkVersion} of the bench link.`);
    reply('done', greeting(this, {lastHold: this.holds.last, inLoader: this.loader.isActive}));
  }

  private spin(call: Argument<'spin'>, reply: Reply, refuse: Refuse): void {
    this.countUp();
    const now = this.time.now();
    const turns = call.commands.some(({value}) => value > 0);
    const renewed = this.holds.renew({...call, turns}, now);
    if (renewed.kind === 'hold-too-high') this.endHolds();
    if (renewed.kind !== 'taken') return refuse(renewed.kind, holdRefusals[renewed.kind]);
    if (!this.supply.on) {
      this.endHolds();
      return refuse('no-power', 'The motors have no power.');
    }
    this.heedsReceiver = call.heeds === 'receiver';
    const share = this.heedsReceiver ? this.cockpit.share(this.controller.running, now) : 1;
    this.train.stop();
    if (!this.heedsReceiver) this.windUp.end();
    if (share === 0) {
      this.endHolds();
      return refuse('fail-safe', 'No frame came from the transmitter: the fail-safe has stopped the motors.');
    }
    const added = this.heedsReceiver && turns ? this.windUp.added(this.controller.mixer, now) : [];
    for (const {output, value} of call.commands)
      this.train.command(output, sharedValue(value, share), {leaseEnds: renewed.until, added: added[output]});
    this.startReports();
    reply('done', null);
  }

  private burstCommand(call: BurstCall, reply: Reply, refuse: Refuse): void {
    this.countUp();
    const taken = takeBurstCommand(this.burst, call, {
      nowMs: this.time.now(),
      loopHz: this.controller.running.loopHz,
    });
    if ('code' in taken) return refuse(taken.code, taken.text);
    if (call.operation === 'burst.start') this.startReports();
    reply('done', taken.value);
  }

  private besideSpin(call: BesideSpin, reply: Reply, refuse: Refuse): void {
    const taken = takeBesideSpin(call, this.asked());
    if ('code' in taken) return refuse(taken.code, taken.text);
    reply('done', taken.value);
  }

  private asked(): Asked {
    const {controller, cockpit, ends, escs, train, random} = this;
    const nowMs = this.time.now();
    return {
      ...{controller, cockpit, ends, escs, train, random, nowMs},
      ...{batteryOn: this.supply.on, held: this.holds.isAlive(nowMs)},
      onTone: (tone) => this.sounded.push(tone),
    };
  }

  /** Whether someone holds, or a pulse is kept up: then leases run out, and its clock must run as fast as the sender's. */
  get isHeld(): boolean {
    return this.holds.isAlive(this.time.now()) || this.ends.level === 'highest';
  }

  private endHolds(): void {
    this.windUp.end();
    this.holds.end(this.holds.last);
    this.train.stop();
  }

  private escCommand(call: EscCall, reply: Reply, refuse: Refuse): void {
    const asked = {
      output: call.argument.output,
      road: this.road,
      clippedTo: this.clippedTo,
      dialect: this.adapterDialect,
    };
    const {escs, controller, train, supply} = this;
    const wired = escOnWire(asked, {escs, controller, train, on: supply.on});
    if ('code' in wired) {
      const {code, text} = wired;
      if (code === 'no-answer') return void this.time.after(noAnswerMs, () => refuse(code, text));
      return refuse(code, text);
    }
    const {esc, output, name} = wired;
    const taken = takeEscCommand(esc, call, name);
    if ('code' in taken) return refuse(taken.code, taken.text);
    const {timing, finish} = taken;
    const cutText = `Motor ${output + 1} fell silent in the middle of a command: its power is gone.`;
    this.wires.run(
      output,
      {...timing, outMs: timing.outMs + esc.lateMs},
      () => reply('done', finish()),
      () => refuse('no-power', cutText),
    );
  }

  /** Plans the next tick; a motor that starts does not wait for the slow one. */
  private startReports(): void {
    const everyMs = this.train.isActive ? reportEveryMs : idleReportEveryMs;
    if (this.tickTimer && this.tickTimer.everyMs <= everyMs) return;
    if (this.tickTimer) this.countUp();
    this.tickTimer?.cancel();
    this.tickTimer = {everyMs, cancel: this.time.after(everyMs, () => this.tick())};
  }

  /** Brings motors, reply counters and a burst up to now. */
  private countUp(): void {
    const now = this.time.now();
    const passed = Math.min(idleReportEveryMs, Math.round(now - this.countedTo));
    this.countedTo = now;
    let left = passed;
    for (; left > 0 && this.isKeeping; left--) this.millisecond(now - left + 1);
    if (left > 0) this.train.countReplies(left, now);
  }

  /** Whether something goes on that must be followed. */
  private get isKeeping(): boolean {
    return this.train.isActive || this.burst.everyMs !== undefined || this.train.recorder !== undefined;
  }

  /** The millisecond that ends at `now`; rows of a burst are kept at their own moments in it. */
  private millisecond(now: number): void {
    let at = now - 1;
    if (this.heedsReceiver && this.cockpit.share(this.controller.running, now) === 0) this.train.stop();
    const to = (next: number) => {
      if (next > at && this.train.isActive) this.train.step(next, next - at);
      at = Math.max(at, next);
    };
    while (this.burst.everyMs !== undefined && this.burst.nextMs <= now) {
      to(this.burst.nextMs);
      this.keepRow();
    }
    to(now);
    this.train.countReplies(1, now);
  }

  private keepRow(): void {
    const {outputs, replyFrom} = this.train;
    const rows = outputs.map(({throttle, motor}, i) => {
      const erpm = this.train.erpm(replyFrom[i] ?? i);
      return {erpm, throttle, amps: motor.sensedAmps()};
    });
    this.burst.keep(this.train.volts, rows);
  }

  private tick(): void {
    this.tickTimer = undefined;
    this.countUp();
    if (this.reportsOn || this.isKeeping) this.startReports();
    const link = this.link;
    // What would wait on the line is old when it comes, and holds up what comes after it.
    if (!link || !this.reportsOn || this.isLineBusy()) return;
    const motors = this.road === 'single-wire' ? [] : this.train.told(this.time.now());
    const {load} = this.controller.budget(this.escs.length);
    const argument = {atMs: this.time.now(), power: this.train.power(this.cycles), load, motors};
    this.send(link, encodeMessage({sequence: 0, operation: 'report', argument}));
  }

  private send(link: LinkEnd, frame: Uint8Array): void {
    if (link === this.link) link.send(this.mishaps.spoil(frame));
  }
}

type CallOf<O extends Operation> = {[P in O]: {operation: P; argument: Argument<P>}}[O];
type Call = CallOf<Operation>;
