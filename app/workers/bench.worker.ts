/** Hosts the stand-in bench: drives its clock, keeps its state over reloads, and opens a door for mishaps and tests. */
import '../zod-without-eval';
import * as Comlink from 'comlink';
import {SimulatedBench, type BenchSetup} from '@simulator/bench';
import {juniperBench} from '@simulator/juniper';
import {VirtualTime} from '@simulator/virtual-time';
import {BenchKeep} from './bench-keep';
import type {BenchControl, BenchPace, TurningOutput} from './bench-control';

const keep = new BenchKeep();
const factors: Record<BenchPace, number> = {real: 1, ten: 10, max: 10};

class Host implements BenchControl {
  private time = new VirtualTime();
  private bench: SimulatedBench | undefined;
  private pace: BenchPace = 'ten';
  private lastReal = performance.now();
  private readonly id = crypto.randomUUID();

  constructor() {
    setInterval(() => this.drive(), 4);
  }

  async plug(port: MessagePort): Promise<void> {
    await this.takeOver();
    const bench = await this.ready();
    bench.attach(
      (bytes) => port.postMessage(bytes),
      () => port.postMessage(null),
    );
    port.onmessage = ({data}: MessageEvent<Uint8Array>) => {
      this.drive();
      bench.receive(data);
      this.drive();
    };
  }

  async setPace(pace: BenchPace): Promise<void> {
    this.drive();
    this.pace = pace;
    await keep.put('pace', pace);
  }

  async state(): Promise<{pace: BenchPace; batteryOn: boolean; burnt: readonly number[]}> {
    const bench = await this.ready();
    return {
      pace: this.pace,
      batteryOn: bench.isBatteryOn,
      burnt: bench.escs.flatMap((e, i) => (e.burnt ? [i] : [])),
    };
  }

  async setBattery(on: boolean): Promise<void> {
    (await this.ready()).setBattery(on);
  }

  async pullCable(): Promise<void> {
    (await this.ready()).detach();
  }

  async setCableNoise(share: number): Promise<void> {
    const {mishaps} = await this.ready();
    mishaps.loss = mishaps.flips = share;
  }

  async setWireNoise(share: number): Promise<void> {
    (await this.ready()).train.wireNoise = share;
  }

  async flash(output: number): Promise<Uint8Array> {
    const esc = (await this.ready()).escs[output];
    if (!esc) throw new RangeError(`No output ${output}`);
    return esc.flash.read(0, esc.chip.flashBytes);
  }

  async look(): Promise<readonly TurningOutput[]> {
    const {train} = await this.ready();
    return train.outputs.map((o, i) => ({
      turning: o.state.omega > 20,
      clockwise: train.turnsClockwise(i),
      smoke: o.esc.burnt,
    }));
  }

  async reset(): Promise<void> {
    this.bench?.detach();
    await keep.clear();
    this.bench = undefined;
    this.time = new VirtualTime();
    await this.ready();
  }

  /** Forgets what it knows of the bench when another tab has had it since; the kept state is the true one. */
  private async takeOver(): Promise<void> {
    if (this.bench && (await keep.get('holder')) !== this.id) {
      this.bench = undefined;
      this.time = new VirtualTime();
    }
    await keep.put('holder', this.id);
  }

  private starting: Promise<SimulatedBench> | undefined;

  private ready(): Promise<SimulatedBench> {
    if (this.bench) return Promise.resolve(this.bench);
    this.starting ??= this.start().finally(() => (this.starting = undefined));
    return this.starting;
  }

  private async start(): Promise<SimulatedBench> {
    const setup = await keep.restore(juniperBench());
    this.pace = (await keep.get<BenchPace>('pace')) ?? 'ten';
    return (this.bench = this.build(setup));
  }

  private build(setup: BenchSetup): SimulatedBench {
    return new SimulatedBench(setup, this.time, {
      page: (output, page, bytes) => keep.putPage(output, page, bytes),
      controller: (config) => void keep.put('controller', config),
      power: (on, cycles) => void keep.put('power', {on, cycles}),
    });
  }

  /** Moves virtual time along. A turning motor is held by a hand, so then the clock runs as the hand's does. */
  private drive(): void {
    const real = performance.now();
    const passed = real - this.lastReal;
    this.lastReal = real;
    const {bench, time} = this;
    if (!bench) return;
    const factor = bench.train.isActive ? 1 : factors[this.pace];
    time.advanceTo(time.now() + passed * factor);
    // As fast as possible: jump from event to event while a command is under way.
    while (this.pace === 'max' && bench.isBusy) {
      const next = time.next();
      if (next === undefined) break;
      time.advanceTo(next);
    }
  }
}

Comlink.expose(new Host());
