import {DestroyRef, Injectable, inject, signal} from '@angular/core';
import type {Vector} from '@core/arming/rotation';
import {FrameReader} from '@core/arming/frame-reader';
import type {BenchClient} from '@core/link/client';
import type {ControllerTask, ReceiverFrame} from '@core/link/operations';
import {sleep} from '@core/link/port';
import {ProblemError, type Problem} from '@core/problem';
import {CLOCK} from '../../bench/page-clock';
import {BenchStore} from '../../state/bench.store';

export interface Reading {
  readonly atMs: number;
  readonly g: Vector;
}

/** Between two looks; between two looks at what keeps the craft from being armed, and at its tasks, ms. */
const [lookEveryMs, stateEveryMs, tasksEveryMs] = [60, 500, 1000];

/** What the flight controller says of accelerometer, receiver and arming, followed while the Arming station is open. */
@Injectable()
export class CockpitFeed {
  private readonly bench = inject(BenchStore);
  private readonly clock = inject(CLOCK);

  /** The newest reading of the accelerometer; undefined while it is off or nothing is connected. */
  readonly reading = signal<Reading | undefined>(undefined);
  readonly accelerometerOff = signal(false);
  /** Channels of the newest frame, µs. */
  readonly us = signal<readonly number[]>([]);
  /** ms since the last frame. */
  readonly silentMs = signal<number | undefined>(undefined);
  /** What the flight controller says; undefined while nobody told. */
  readonly armed = signal<boolean | undefined>(undefined);
  readonly blocks = signal<readonly string[]>([]);
  readonly problem = signal<Problem | undefined>(undefined);
  /** Tasks of the processor, measured; followed while someone looks at them. */
  readonly tasks = signal<readonly ControllerTask[]>([]);
  readonly wantsTasks = signal(false);
  private readonly frameListeners = new Set<(frame: ReceiverFrame) => void>();
  private readonly readingListeners = new Set<(reading: Reading) => void>();
  private ended = false;
  private paused = false;
  private on: {readonly client: BenchClient; readonly frames: FrameReader} | undefined;
  private lastFrameMs: number | undefined;
  private stateAt = -Infinity;
  private tasksAt = -Infinity;

  constructor() {
    inject(DestroyRef).onDestroy(() => (this.ended = true));
    void this.follow();
  }

  /** Gets every frame, once; the returned function takes it back. */
  onFrame(listener: (frame: ReceiverFrame) => void): () => void {
    this.frameListeners.add(listener);
    return () => this.frameListeners.delete(listener);
  }

  onReading(listener: (reading: Reading) => void): () => void {
    this.readingListeners.add(listener);
    return () => this.readingListeners.delete(listener);
  }

  /** Leaves the link to a measurement for as long as it runs. */
  async without<T>(work: () => Promise<T>): Promise<T> {
    this.paused = true;
    try {
      return await work();
    } finally {
      this.paused = false;
    }
  }

  private async follow(): Promise<void> {
    while (!this.ended) {
      const {bench} = this;
      if (!bench.isConnected()) this.forget();
      else if (!bench.onAdapter() && !bench.occupied() && !this.paused) await this.look();
      await sleep(this.clock, lookEveryMs);
    }
  }

  private forget(): void {
    if (!this.on) return;
    this.on = undefined;
    this.reading.set(undefined);
    this.us.set([]);
    this.silentMs.set(undefined);
    this.armed.set(undefined);
    this.blocks.set([]);
    this.tasks.set([]);
  }

  private async look(): Promise<void> {
    try {
      const client = this.bench.requireClient();
      if (this.on?.client !== client) this.on = {client, frames: new FrameReader(client)};
      if (client.can('receiver.frames')) await this.lookAtFrames(this.on.frames);
      if (client.can('attitude.read')) await this.lookAtAttitude(client);
      if (client.can('arming.state') && this.clock.now() - this.stateAt > stateEveryMs) {
        this.stateAt = this.clock.now();
        const {armed, blocks} = await client.request('arming.state', null);
        this.armed.set(armed);
        this.blocks.set(blocks);
      }
      if (this.wantsTasks()) await this.lookAtTasks(client);
      this.problem.set(undefined);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      if (this.bench.isConnected()) this.problem.set(error.problem);
    }
  }

  private async lookAtTasks(client: BenchClient): Promise<void> {
    if (!client.can('tasks.read') || this.clock.now() - this.tasksAt < tasksEveryMs) return;
    this.tasksAt = this.clock.now();
    this.tasks.set(await client.request('tasks.read', null));
  }

  private async lookAtFrames(reader: FrameReader): Promise<void> {
    const {frames, nowMs} = await reader.read();
    for (const frame of frames) for (const listener of this.frameListeners) listener(frame);
    const last = frames.at(-1);
    if (last) this.us.set(last.us);
    this.lastFrameMs = last?.atMs ?? this.lastFrameMs ?? nowMs;
    this.silentMs.set(nowMs - this.lastFrameMs);
  }

  private async lookAtAttitude(client: BenchClient): Promise<void> {
    try {
      const reading = await client.request('attitude.read', null);
      this.accelerometerOff.set(false);
      this.reading.set(reading);
      for (const listener of this.readingListeners) listener(reading);
    } catch (error) {
      if (!(error instanceof ProblemError) || error.problem.code !== 'off') throw error;
      this.accelerometerOff.set(true);
      this.reading.set(undefined);
    }
  }
}
