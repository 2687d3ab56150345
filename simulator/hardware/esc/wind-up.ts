/**
 * What a stabilised loop adds to motors at idle that nothing answers: the gyro is never quite at zero, without propellers no
 * correction turns the craft, and so the correction grows. Normal on a bench.
 */
import type {MixerRow} from '@core/link/operations';
import type {Random} from '../../random';

/** Most that it adds, share of throttle, and how fast it grows, share per second. */
const [most, perSecond] = [0.06, 0.02];

export class WindUp {
  private sinceMs: number | undefined;
  /** What the gyro drifts by about roll, pitch and yaw, each −1…1. */
  private readonly drift: readonly [number, number, number];

  constructor(random: Random) {
    const side = () => (random.next() < 0.5 ? -1 : 1) * (0.5 + 0.5 * random.next());
    this.drift = [side(), side(), side()];
  }

  end(): void {
    this.sinceMs = undefined;
  }

  /** Throttle that each motor gets on top, 0…1; begins to grow with the first call. */
  added(mixer: readonly MixerRow[], nowMs: number): number[] {
    this.sinceMs ??= nowMs;
    const grown = Math.min(most, (perSecond * (nowMs - this.sinceMs)) / 1000);
    const [roll, pitch, yaw] = this.drift;
    return mixer.map((row) => grown * Math.max(0, (row.roll * roll + row.pitch * pitch + row.yaw * yaw) / 3));
  }
}
