/** Hosts the stand-in bench: drives its clock, keeps its state over reloads, and opens a door for mishaps and tests. */
import '../zod-without-eval';
import * as Comlink from 'comlink';
import {SimulatedBench} from '@simulator/hardware/bench';
import type {WireConfig} from '@core/link/operations';
import type {BenchSetup} from '@simulator/hardware/bench-setup';
import {benches} from '@simulator/benches/benches';
import type {Pose} from '@simulator/hardware/hands/hand';
import type {Transmitter} from '@simulator/hardware/hands/transmitter';
import {factoryConfig} from '@simulator/hardware/controller/controller-fields';
import {Random} from '@simulator/random';
import {meddleWithSettings} from '@simulator/hardware/hands/meddle';
import {VirtualTime} from '@core/link/virtual-time';
import {recordWires} from '@simulator/hardware/wires/record-wires';
import {BenchKeep} from './bench-keep';
import {stepBench} from './step-bench';
import type {WireRecording} from '@core/capture/read/recording';
import type {Road} from '@core/link/operations';
import {
  noMishaps,
  type ArmedMishap,
  type BenchControl,
  type BenchId,
  type BenchMishaps,
  type BenchPace,
  type BenchState,
  type TransmitterAct,
  type TurningOutput,
} from './bench-control';

const factors: Record<BenchPace, number> = {real: 1, ten: 10, max: 10};
/** A pack that is nearly empty, V per cell, and a full one. */
const cellVolts = {low: 3.15, full: 4.05};

/** How often it follows the real clock, ms. */
const driveEveryMs = 4;
/** The last look at hand and sticks counts for so long, ms. */
const lookedAtMs = 500;

class Host implements BenchControl {
  private id: BenchId = 'juniper';
  private keep = new BenchKeep('juniper');
  private time = new VirtualTime();
  private bench: SimulatedBench | undefined;
  private pace: BenchPace = 'ten';
  private mishaps: BenchMishaps = noMishaps;
  private fullVolts = 0;
  private hasAdapter = false;
  private armed: (ArmedMishap & {readonly touched: Set<number>})[] = [];
  /** Times that the flight controller's loader changed something. */
  private blocks = 0;
  private lastReal = performance.now();
  /** The port of a page that steps the bench by its own clock. */
  private steppedBy: MessagePort | undefined;
  private lookedAt = {asked: 0, real: -Infinity};
  private readonly holder = crypto.randomUUID();
  private driving = this.driveByItself();

  async plug(port: MessagePort, id: BenchId, stepped: boolean): Promise<boolean> {
    if (this.mishaps.portHeld) return false;
    await this.takeOver(id);
    const bench = await this.ready();
    if (stepped) {
      this.attachStepped(port, bench);
      return true;
    }
    bench.attach(
      (bytes) => port.postMessage(bytes),
      () => port.postMessage(null),
    );
    port.onmessage = ({data}: MessageEvent<Uint8Array>) => {
      this.drive();
      bench.receive(data);
      this.drive();
    };
    return true;
  }

  /** A bench that moves when the page's clock does, and stops where it has something to say. */
  private attachStepped(port: MessagePort, bench: SimulatedBench): void {
    this.steppedBy = port;
    clearInterval(this.driving);
    stepBench(port, bench, {
      time: this.time,
      hurries: () => this.pace === 'max' && bench.isBusy,
      onLeft: () => {
        if (this.steppedBy !== port) return;
        this.steppedBy = undefined;
        this.lastReal = performance.now();
        this.driving = this.driveByItself();
      },
    });
  }

  private driveByItself(): ReturnType<typeof setInterval> {
    return setInterval(() => this.drive(), driveEveryMs);
  }

  async setPace(pace: BenchPace): Promise<void> {
    this.drive();
    this.pace = pace;
    await this.keep.put('pace', pace);
  }

  async state(): Promise<BenchState> {
    const bench = await this.ready();
    return {
      pace: this.pace,
      batteryOn: bench.isBatteryOn,
      outputs: bench.escs.length,
      road: bench.road,
      hasAdapter: this.hasAdapter,
      clippedTo: bench.clippedTo,
      burnt: bench.escs.flatMap((e, i) => (e.burnt ? [i] : [])),
      transmitterOn: bench.cockpit.transmitter.on,
      switches: Object.fromEntries(bench.cockpit.transmitter.switches),
    };
  }

  async setBattery(on: boolean): Promise<void> {
    (await this.ready()).setBattery(on);
  }

  async pullCable(): Promise<void> {
    (await this.ready()).detach();
  }

  async restartController(): Promise<void> {
    (await this.ready()).restartController();
  }

  async hangController(): Promise<void> {
    const bench = await this.ready();
    bench.board.hangs = true;
    bench.detach();
  }

  async strangeController(): Promise<void> {
    const bench = await this.ready();
    bench.board.loader.holdStranger(new Random(Date.now()));
    bench.detach();
  }

  async replaceController(): Promise<void> {
    const bench = await this.ready();
    const {identity, kept} = bench.controller;
    const serial = `C${new Random(Date.now()).below(1e6)}`;
    bench.controller.replaceBoard(serial, factoryConfig(identity.version, kept));
    await this.keep.put('serial', serial);
    bench.detach();
  }

  async plugInByHand(): Promise<void> {
    const bench = await this.ready();
    bench.detach();
    bench.board.powerUp(true);
  }

  async meddle(output: number): Promise<void> {
    const esc = (await this.ready()).escs[output];
    if (esc) meddleWithSettings(esc);
  }

  async mountMotor(output: number, poles: number): Promise<void> {
    (await this.ready()).train.mountMotor(output, poles);
  }

  async pose(pose: Pose): Promise<void> {
    const bench = await this.ready();
    bench.cockpit.hand.pose(pose, this.time.now());
  }

  async transmitter(act: TransmitterAct): Promise<void> {
    actOn((await this.ready()).cockpit.transmitter, act, this.time.now());
  }

  arm(mishap: ArmedMishap): Promise<void> {
    this.armed.push({...mishap, touched: new Set()});
    return Promise.resolve();
  }

  /** A page was erased or written: what is armed for it happens. */
  private touched(output: ArmedMishap['output'], page: number): void {
    for (const armed of this.armed) if (armed.output === output) armed.touched.add(page);
    const due = this.armed.filter((a) => a.touched.size >= a.pages);
    this.armed = this.armed.filter((a) => !due.includes(a));
    // After the command under way has said what it did.
    for (const {what} of due) this.time.after(0, () => this.happen(what));
  }

  private happen(what: ArmedMishap['what']): void {
    if (what === 'battery-off') this.bench?.setBattery(false);
    else if (what === 'cable-out') this.bench?.detach();
    else this.bench?.restartController();
  }

  async plugInto(road: Road): Promise<void> {
    (await this.ready()).plugInto(road);
    await this.keep.put('road', road);
  }

  async clip(output: number | undefined): Promise<void> {
    (await this.ready()).clippedTo = output;
  }

  async setMishaps(mishaps: BenchMishaps): Promise<void> {
    this.mishaps = mishaps;
    this.applyMishaps(await this.ready());
  }

  private applyMishaps(bench: SimulatedBench): void {
    const {cableNoise, wireNoise, supplyNoise, looseWires, longestTransfer, silent, worn, batteryLow} = this.mishaps;
    bench.mishaps.loss = bench.mishaps.flips = cableNoise;
    bench.mishaps.longest = longestTransfer;
    bench.train.wireNoise = wireNoise;
    bench.train.supplyNoise = supplyNoise;
    bench.train.looseWires = looseWires;
    bench.setVolts(batteryLow ? Math.round(this.fullVolts / cellVolts.full) * cellVolts.low : this.fullVolts);
    bench.escs.forEach((esc, output) => {
      esc.silent = silent.includes(output);
      esc.flash.worn.clear();
      const {start, end} = esc.chip.application;
      if (worn.includes(output)) esc.flash.worn.add(Math.floor((start + (end - start) * 0.22) / esc.chip.pageBytes));
    });
  }

  async record(ms: number): Promise<WireRecording> {
    const bench = await this.ready();
    this.drive();
    return new Promise((resolve) => recordWires(bench, ms, resolve));
  }

  async flash(output: number): Promise<Uint8Array> {
    const esc = (await this.ready()).escs[output];
    if (!esc) throw new RangeError(`No output ${output}`);
    return esc.flash.read(0, esc.chip.flashBytes);
  }

  async controllerFirmware(): Promise<{version: string | undefined; isInLoader: boolean}> {
    const {loader} = await this.ready();
    return {version: loader.firmware?.version, isInLoader: loader.isActive};
  }

  async configuration(): Promise<WireConfig> {
    return (await this.ready()).controller.kept;
  }

  async look(): Promise<readonly TurningOutput[]> {
    const {train, arms} = await this.ready();
    return train.outputs.map((o, i) => ({
      arm: arms[i]!,
      turning: o.state.omega > 20,
      throttle: o.throttle,
      clockwise: train.turnsClockwise(i),
      smoke: o.esc.burnt,
    }));
  }

  async reset(): Promise<void> {
    this.forget();
    await this.keep.clear();
    await this.ready();
  }

  private forget(): void {
    this.bench?.detach();
    this.bench = undefined;
    this.time = new VirtualTime();
  }

  /** Forgets what it knows of the bench when another tab has had it since; the kept state is the true one. */
  private async takeOver(id: BenchId): Promise<void> {
    if (id !== this.id) {
      this.forget();
      this.keep.close();
      this.id = id;
      this.keep = new BenchKeep(id);
    } else if (this.bench && (await this.keep.get('holder')) !== this.holder) this.forget();
    await this.keep.put('holder', this.holder);
  }

  private starting: Promise<SimulatedBench> | undefined;

  private ready(): Promise<SimulatedBench> {
    if (this.bench) return Promise.resolve(this.bench);
    this.starting ??= this.start().finally(() => (this.starting = undefined));
    return this.starting;
  }

  private async start(): Promise<SimulatedBench> {
    const first = benches[this.id]!();
    this.hasAdapter = first.road === 'single-wire';
    const setup = await this.keep.restore(first);
    this.pace = (await this.keep.get<BenchPace>('pace')) ?? 'ten';
    this.fullVolts = setup.supply.volts;
    this.bench = this.build(setup);
    this.applyMishaps(this.bench);
    return this.bench;
  }

  private build(setup: BenchSetup): SimulatedBench {
    const {keep} = this;
    return new SimulatedBench(setup, this.time, {
      page: (output, page, bytes) => {
        keep.putPage(output, page, bytes);
        this.touched(output, page);
      },
      controller: (config, settings) => {
        void keep.put('controller', config);
        void keep.put('settings', settings);
      },
      loader: ({application, isActive}) => {
        void keep.put('loader', {application: application.slice(), isActive});
        this.touched('controller', this.blocks++);
      },
      power: (on, cycles) => void keep.put('power', {on, cycles}),
    });
  }

  /** Whether someone follows the hand and the sticks: then the clock runs as theirs does. */
  private isLookedAt(real: number): boolean {
    const asked = this.bench?.cockpit.asked ?? 0;
    if (asked !== this.lookedAt.asked) this.lookedAt = {asked, real};
    return real - this.lookedAt.real < lookedAtMs;
  }

  /** Whether a hand holds something that turns, or someone looks at what moves. */
  private isFollowed(real: number): boolean {
    const {bench} = this;
    return !!bench && (bench.train.isActive || bench.isHeld || this.isLookedAt(real));
  }

  /** Moves virtual time along. A turning motor is held by a hand, so then the clock runs as the hand's does. */
  private drive(): void {
    const real = performance.now();
    const passed = real - this.lastReal;
    this.lastReal = real;
    const {bench, time} = this;
    if (!bench || this.steppedBy) return;
    const factor = this.isFollowed(real) ? 1 : factors[this.pace];
    time.advanceTo(time.now() + passed * factor);
    // As fast as possible: jump from event to event while a command is under way.
    while (this.pace === 'max' && bench.isBusy) {
      const next = time.next();
      if (next === undefined) break;
      time.advanceTo(next);
    }
  }
}

function actOn(transmitter: Transmitter, act: TransmitterAct, now: number): void {
  switch (act.what) {
    case 'power':
      transmitter.on = act.on;
      return;
    case 'move':
      return transmitter.move(act.stick, now);
    case 'sweep':
      return transmitter.sweep(now);
    case 'switch':
      transmitter.switches.set(act.channel, act.position);
      return;
    case 'trim':
      transmitter.ends = {lowUs: 1000, centreUs: 1500, highUs: 2000};
  }
}

Comlink.expose(new Host());
