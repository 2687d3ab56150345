/** One simulated ESC: chip, flash, bootloader, the firmware that runs when its application checks, and its bridge. */
import {chips, type AddressRange, type Chip, type ChipName} from '@core/firmware/chips';
import type {Hardware} from '@core/firmware/fit';
import {checkApplication, type Identity} from '@core/firmware/identity';
import type {BridgeSettings} from '@core/motor/motor';
import {decodeSettings, defaultSettings, type Settings} from '@core/settings/page';
import {isLayoutRevision, pwmFollows} from '@core/settings/definitions';
import {Flash} from './flash';

export interface EscHardware extends Hardware {
  readonly chip: ChipName;
  readonly serial: string;
  readonly bootRevision: number;
  readonly dialect: 'A' | 'B';
}

/** Largest braking current of the simulated boards at full brake strength, A. */
const fullBrakeAmps = 0.8;
const driveLimitAmps = 45;

export class Esc {
  state: 'off' | 'bootloader' | 'running' = 'off';
  /** Set when the bridge has burnt: it never answers again. */
  burnt = false;
  identity: Identity | undefined;
  private settings: Settings = {};
  readonly chip: Chip;
  readonly flash: Flash;

  constructor(
    readonly hardware: EscHardware,
    flash: Uint8Array,
    onChange: (page: number) => void,
  ) {
    this.chip = chips[hardware.chip];
    this.flash = new Flash(this.chip, flash, onChange);
  }

  get applicationValid(): boolean {
    const {start, end} = this.chip.application;
    return checkApplication(this.flash.view(start, end)).ok;
  }

  /** Power-up or restart: runs the application if it checks, else stays in the bootloader. */
  start(): void {
    const {application, settings} = this.chip;
    const check = checkApplication(this.flash.view(application.start, application.end));
    this.identity = check.ok ? check.value : undefined;
    this.state = check.ok && !this.burnt ? 'running' : 'bootloader';
    if (!check.ok) return;
    const layout = check.value.layoutRevision;
    const stored = decodeSettings(this.flash.view(settings.start, settings.end));
    const usable = stored.ok && stored.value.layout === layout;
    this.settings = usable ? stored.value.values : isLayoutRevision(layout) ? defaultSettings(layout) : {};
  }

  powerOff(): void {
    this.state = 'off';
  }

  get reversed(): boolean {
    return this.settings.rotation === 1;
  }

  get repliesToDshot(): boolean {
    return this.state === 'running' && !!this.identity?.features.includes('replies');
  }

  /** Whether the firmware drives this bridge as it must be driven. */
  get firmwareMatchesBridge(): boolean {
    return this.identity?.board === this.hardware.board && this.identity.deadTimeNs === this.hardware.deadTimeNs;
  }

  /** Largest current while starting, A: 0.1 A for each µs of start-up power. */
  get startAmps(): number {
    return ((this.settings.startHigh ?? 1000) - 1000) * 0.1;
  }

  bridge(rpm: number): BridgeSettings {
    const pwm = this.settings.pwm ?? 24;
    // Speed-following PWM: 24 kHz at rest to 96 kHz from 30,000 rpm on.
    const pwmHz = pwm === pwmFollows ? 24_000 + 72_000 * Math.min(1, rpm / 30_000) : pwm * 1000;
    return {
      pwmHz,
      deadTimeS: this.hardware.deadTimeNs * 1e-9,
      activeBraking: this.settings.activeBraking === 1,
      brakeAmps: (fullBrakeAmps * (this.settings.brakeStrength ?? 60)) / 100,
      limitAmps: driveLimitAmps,
    };
  }

  /** Why the bootloader will not change `range`; undefined when it may. */
  writeRefusal(range: AddressRange): string | undefined {
    const {bootloader, flashBytes} = this.chip;
    if (range.start < bootloader.end && range.end > bootloader.start) return 'protected';
    return range.end > flashBytes || range.start < 0 ? 'bad-address' : undefined;
  }
}
