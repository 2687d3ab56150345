/** Takes the four moves of the sticks by itself: each ends when its stick is back where it began. */
import type {ReceiverFrame} from '../link/operations';
import {findChannels, sticks, type FoundChannels, type Frames, type NoChannels, type Stick} from './channels';

/** A move is under way from here on, and over when every channel is this near to where it began, for so long. */
const [movedUs, backUs, backMs] = [250, 60, 300];
/** A move begins from what was there within this time before it, ms. */
const beforeMs = 3_000;

export class MoveWatch {
  private readonly moves: Partial<Record<Stick, Frames>> = {};
  private current: ReceiverFrame[] = [];
  private hasMoved = false;
  private backSinceMs: number | undefined;
  /** Frames that were looked at. */
  frames = 0;

  /** The stick whose move is waited for; undefined when all are there. */
  get wanted(): Stick | undefined {
    return sticks.find((stick) => !this.moves[stick]);
  }

  get isMoving(): boolean {
    return this.hasMoved;
  }

  get result(): FoundChannels | NoChannels | undefined {
    const {roll, pitch, throttle, yaw} = this.moves;
    return roll && pitch && throttle && yaw && findChannels({roll, pitch, throttle, yaw});
  }

  feed({atMs, us}: ReceiverFrame): void {
    const {wanted} = this;
    if (!wanted) return;
    this.frames++;
    this.current.push({atMs, us});
    // A trim that creeps is no move: before one, only the last seconds matter.
    if (!this.hasMoved) this.current = this.current.filter((f) => atMs - f.atMs <= beforeMs);
    const first = this.current[0]!.us;
    const furthest = us.reduce((most, v, c) => Math.max(most, Math.abs(v - (first[c] ?? v))), 0);
    if (furthest >= movedUs) this.hasMoved = true;
    if (!this.hasMoved || furthest > backUs) {
      this.backSinceMs = undefined;
      return;
    }
    this.backSinceMs ??= atMs;
    if (atMs - this.backSinceMs < backMs) return;
    this.moves[wanted] = this.current.map((f) => f.us);
    this.current = [];
    this.hasMoved = false;
    this.backSinceMs = undefined;
  }

  /** Takes the last move again. */
  again(stick: Stick): void {
    delete this.moves[stick];
    this.current = [];
    this.hasMoved = false;
  }
}
