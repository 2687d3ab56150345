/** Which channel a switch is on and where it stands, from moving it. */
import type {Switch} from '../controller/arming-fields';
import type {ReceiverFrame} from '../link/operations';

type SwitchPlace = Pick<Switch, 'channel' | 'fromUs' | 'toUs'>;

/** A switch jumps by so much, µs, and then stands within so much for so long, ms. */
const [movedUs, standsUs, standsMs] = [250, 30, 500];

export class SwitchWatch {
  private at: {readonly channel: number; readonly us: number; readonly sinceMs: number} | undefined;
  result: SwitchPlace | undefined;

  /**
   * @param passedOver channels of sticks, counted from 1: a stick is no switch.
   * @param first pulses as they stood when it began, µs; those of the first frame where nothing was seen before.
   */
  constructor(
    private readonly passedOver: readonly number[],
    private first?: readonly number[],
  ) {}

  feed({atMs, us}: ReceiverFrame): void {
    if (this.result) return;
    this.first ??= us;
    const moved = us
      .map((value, c) => ({channel: c + 1, us: value, by: Math.abs(value - (this.first![c] ?? value))}))
      .filter((m) => m.by >= movedUs && !this.passedOver.includes(m.channel))
      .sort((a, b) => b.by - a.by)[0];
    if (!moved) return void (this.at = undefined);
    if (this.at?.channel !== moved.channel || Math.abs(this.at.us - moved.us) > standsUs)
      this.at = {channel: moved.channel, us: moved.us, sinceMs: atMs};
    else if (atMs - this.at.sinceMs >= standsMs) this.result = {channel: moved.channel, ...rangeAround(moved.us)};
  }
}

/** The third of the way that a position lies in: both ends of a switch are never in one. */
function rangeAround(us: number): {readonly fromUs: number; readonly toUs: number} {
  if (us < 1300) return {fromUs: 900, toUs: 1300};
  return us > 1700 ? {fromUs: 1700, toUs: 2100} : {fromUs: 1300, toUs: 1700};
}

/** Uses whose range the newest frame is in. */
export const switchesOn = (switches: readonly Switch[], us: readonly number[]): readonly Switch[] =>
  switches.filter((s) => {
    const now = us[s.channel - 1];
    return now !== undefined && now >= s.fromUs && now <= s.toUs;
  });
