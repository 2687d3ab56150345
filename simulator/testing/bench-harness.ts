/** Juniper's bench, a client and the shelf's image in virtual time: what runner and survey tests start from. */
import {juniper} from '@core/craft/juniper';
import type {Craft} from '@core/craft/craft';
import {BenchClient} from '@core/link/client';
import {MemoryJournal} from '@core/work/journal';
import {runWorkOrder, type RunnerHost} from '@core/work/runner';
import {measureReplies} from '@core/work/spin';
import {survey} from '@core/work/survey';
import {buildWorkOrder, type WorkOrder} from '@core/work/work-order';
import {chips} from '@core/firmware/chips';
import type {Release} from '@core/firmware/releases';
import {SimulatedBench} from '@simulator/bench';
import {juniperBench} from '@simulator/juniper';
import {meridianImage} from '@simulator/meridian';
import {openPort} from '@simulator/port';
import {runInVirtualTime, VirtualTime} from '@simulator/virtual-time';

export const breathe = () => new Promise<void>((resolve) => setImmediate(resolve));

export const image42 = meridianImage('4.2', {board: 'Gneiss 45', deadTimeNs: 45});
export const application42 = image42.segments[0]!.bytes;
export const release42: Release = {
  id: 'meridian-4.2',
  family: 'Meridian',
  version: '4.2',
  variant: 'multirotor',
  board: 'Gneiss 45',
  chip: 'M32',
  deadTimeNs: 45,
  standing: 'steady',
  date: '2026-06-14',
  note: '',
  features: ['replies'],
  sizeBytes: 41984,
  sha256: '0'.repeat(64),
};

export class Harness {
  readonly time = new VirtualTime();
  readonly bench: SimulatedBench;
  readonly journal = new MemoryJournal();
  readonly cancel = {aborted: false};
  /** Virtual ms between the first and the last journal entry of each write step. */
  readonly wireMs: number[] = [];
  private beganAt = 0;
  client: BenchClient;
  /** Cycles the battery by itself when the runner asks for it. */
  personIsThere = true;

  constructor(seed = 1) {
    this.bench = new SimulatedBench(juniperBench(seed), this.time);
    this.client = this.connect();
  }

  connect(): BenchClient {
    return (this.client = new BenchClient(openPort(this.bench), this.time));
  }

  run<T>(work: Promise<T>): Promise<T> {
    return runInVirtualTime(this.time, breathe, work);
  }

  survey() {
    return this.run(survey(this.client, {at: 1}));
  }

  async order(craft: Craft = juniper): Promise<WorkOrder> {
    const found = await this.survey();
    const order = buildWorkOrder({
      id: 'order-1',
      at: 2,
      craft,
      found,
      firmware: {release: release42, image: image42},
    });
    if (!order.ok) throw new Error(order.problem.meaning);
    return order.value;
  }

  host(): RunnerHost {
    let asked = false;
    return {
      clock: this.time,
      today: () => 3,
      journal: {
        entries: (id) => this.journal.entries(id),
        append: (entry) => {
          if (entry.event === 'begin') this.beganAt = this.time.now();
          if (entry.event === 'done' && entry.stepId.startsWith('write-'))
            this.wireMs.push(this.time.now() - this.beganAt);
          return this.journal.append(entry);
        },
      },
      image: () => Promise.resolve(image42),
      onProgress: (p) => {
        if (p.waitsFor !== 'battery' || asked || !this.personIsThere) return;
        asked = true;
        this.time.after(500, () => this.bench.setBattery(false));
        this.time.after(1500, () => this.bench.setBattery(true));
      },
      measureReplies: (outputs, poles, cancel) =>
        measureReplies(this.client, {outputs, poles, cancel, clock: this.time, idle: 0.04}),
      cancel: this.cancel,
    };
  }

  carryOut(order: WorkOrder) {
    return this.run(runWorkOrder(this.client, order, this.host()));
  }

  /** The application of an ESC, as long as the image of Meridian 4.2. */
  application(output: number): Uint8Array {
    const {application} = chips.M32;
    return this.bench.escs[output]!.flash.read(application.start, application42.length);
  }
}
