/**
 * Calibration of analog ESCs: one that powers up while the highest pulse comes takes it for full throttle, and the lowest
 * pulse that follows for none. Each measures with its own clock and leaves a margin, so that both ends are surely reached.
 */
import {decodeSettings, encodeSettings, settingsBytes} from '@core/settings/page';
import type {Argument} from '@core/link/operations';
import type {Esc} from '../esc/esc';
import type {VirtualTime} from '@core/link/virtual-time';

export const lowestUs = 1000;
export const highestUs = 2000;
/** What an ESC leaves between an end it has measured and the one it keeps, µs. */
const marginUs = 20;
/** Time of a steady highest, then lowest, pulse until it is taken, ms. */
const highMs = 2000;
const lowMs = 500;

type Level = Argument<'ends.send'>['level'];

export class EndPoints {
  private sent: Level = 'lowest';
  private until = 0;
  /** ESCs that have taken the highest pulse and wait for the lowest. */
  private readonly waiting = new Set<Esc>();

  constructor(private readonly time: VirtualTime) {}

  get level(): Level {
    return this.time.now() <= this.until ? this.sent : 'lowest';
  }

  /** Why a level cannot be sent; undefined where it is. */
  send({level, leaseMs}: Argument<'ends.send'>, bench: {on: boolean; analog: boolean}): [string, string] | undefined {
    if (!bench.analog) return ['not-analog', 'Only analog pulses have ends; this protocol is digital.'];
    if (level === 'highest' && bench.on && this.level !== 'highest')
      return ['powered', 'The battery is on: an ESC that runs would take the highest pulse for full throttle.'];
    this.sent = level;
    this.until = this.time.now() + leaseMs;
    if (level === 'lowest') this.time.after(lowMs, () => this.takeLowest());
    else this.time.after(leaseMs + 1 + lowMs, () => this.takeLowest());
    return undefined;
  }

  /** An ESC starts. */
  started(esc: Esc): void {
    if (this.level !== 'highest') return;
    this.time.after(highMs, () => {
      if (this.level === 'highest' && esc.state === 'running') this.waiting.add(esc);
    });
  }

  private takeLowest(): void {
    if (this.level !== 'lowest') return;
    for (const esc of this.waiting) if (esc.state === 'running') this.keep(esc);
    this.waiting.clear();
  }

  private keep(esc: Esc): void {
    const {settings, pageBytes} = esc.chip;
    const page = esc.flash.read(settings.start, pageBytes);
    const read = decodeSettings(page);
    if (!read.ok) return;
    const throttleMin = Math.round(esc.readsPulse(lowestUs)) + marginUs;
    const throttleMax = Math.round(esc.readsPulse(highestUs)) - marginUs;
    const values = {...read.value.values, throttleMin, throttleMax};
    page.set(encodeSettings(read.value.layout, values, page.subarray(0, settingsBytes)));
    esc.flash.erase(settings.start);
    esc.flash.write(settings.start, page);
    esc.start();
  }
}
