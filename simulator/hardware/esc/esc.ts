/** One simulated ESC: chip, flash, bootloader, the firmware that runs when its application checks, and its bridge. */
import {crc32} from '@core/checksums';
import type {Dialect} from '@core/link/operations';
import {chips, type AddressRange, type Chip, type ChipName} from '@core/firmware/chips';
import type {Hardware} from '@core/firmware/plan/fit';
import {checkApplication, isWithin, type Identity} from '@core/firmware/identity';
import type {BridgeSettings} from '@core/motor/motor';
import {decodeSettings, defaultSettings, valueIn, type Settings} from '@core/settings/page';
import {followingPwmHz} from '@core/motor/following-pwm';
import {brakeShare} from '@core/motor/esc-currents';
import {isLayoutRevision} from '@core/settings/definitions';
import {bothWays, pwmFollows} from '@core/settings/parameters/special-values';
import {Flash} from './flash';

export interface EscHardware extends Hardware {
  readonly chip: ChipName;
  readonly serial: string;
  readonly bootRevision: number;
  readonly dialect: Dialect;
  /** An ESC without a bootloader never answers on the wire. */
  readonly hasBootloader?: false;
  /** How fast its clock runs, as a share of a true one: a pulse reads as so much of itself. 1 where left out. */
  readonly clockShare?: number;
  /** CRC-32 of the application of foreign firmware, which its own tool installed; the bootloader starts it. */
  readonly foreignCrc32?: number;
}

/** How an ESC drives its motor. */
export interface Drive {
  readonly bridge: BridgeSettings;
  /** Timing advance, electrical degrees, or automatic. */
  readonly timing: number;
  /** Demag compensation: 0 off, 1 low, 2 high. */
  readonly demag: number;
  /** Lowest and highest start-up power, µs. */
  readonly startLowUs: number;
  readonly startHighUs: number;
}

/** Analog throttle up to which an ESC takes a pulse for none. */
const deadShare = 0.008;

export class Esc {
  state: 'off' | 'bootloader' | 'running' = 'off';
  /** Set when the bridge has burnt: it never answers again. */
  burnt = false;
  /** Mishaps: does not answer on its wire; answers so many ms late. */
  silent = false;
  lateMs = 0;
  identity: Identity | undefined;
  /** The reply module that runs beside the base. */
  module: Identity | undefined;
  private settings: Settings = {};
  /** How its settings drive a motor, since it started. */
  private driven: Drive | undefined;
  readonly chip: Chip;
  readonly flash: Flash;

  constructor(
    private made: EscHardware,
    flash: Uint8Array,
    onChange: (page: number) => void,
  ) {
    this.chip = chips[made.chip];
    this.flash = new Flash(this.chip, flash, onChange);
  }

  get hardware(): EscHardware {
    return this.made;
  }

  /** Another ESC of the same make is in its place, with the same flash. */
  replaceBy(serial: string): void {
    this.made = {...this.made, serial};
    this.driven = undefined;
  }

  get applicationValid(): boolean {
    const {start, end} = this.chip.application;
    return checkApplication(this.flash.view(start, end)).ok || this.isForeign;
  }

  private get isForeign(): boolean {
    const {start, end} = this.chip.application;
    const {foreignCrc32} = this.hardware;
    return foreignCrc32 !== undefined && crc32(this.flash.view(start, end)) === foreignCrc32;
  }

  /** Power-up or restart: runs the application if it checks, else stays in the bootloader. */
  start(): void {
    const {application, settings} = this.chip;
    const check = checkApplication(this.flash.view(application.start, application.end));
    this.identity = check.ok ? check.value : undefined;
    this.module = this.identity && this.readModule(this.identity);
    this.state = (check.ok || this.isForeign) && !this.burnt ? 'running' : 'bootloader';
    this.settings = {};
    this.driven = undefined;
    if (!check.ok) return;
    const layout = check.value.layoutRevision;
    const stored = decodeSettings(this.flash.view(settings.start, settings.end));
    const usable = stored.ok && stored.value.layout === layout;
    this.settings = usable ? stored.value.values : isLayoutRevision(layout) ? defaultSettings(layout) : {};
  }

  /** The module starts only when it checks and its bounds hold the base. */
  private readModule(base: Identity): Identity | undefined {
    const {module} = this.chip;
    const check = module && checkApplication(this.flash.view(module.start, module.end));
    if (!check?.ok || check.value.variant !== 'reply-module' || check.value.family !== base.family) return undefined;
    return check.value.base && isWithin(base.version, check.value.base) ? check.value : undefined;
  }

  powerOff(): void {
    this.state = 'off';
  }

  get reversed(): boolean {
    return this.settings.rotation === 1;
  }

  /** Stops at the middle of the throttle and turns backwards below it. */
  get turnsBothWays(): boolean {
    return this.settings.rotation === bothWays;
  }

  get repliesToDshot(): boolean {
    return this.state === 'running' && (hasReplies(this.identity) || hasReplies(this.module));
  }

  /** Whether it tells more than speeds once it is told to. */
  get tellsMore(): boolean {
    return this.repliesToDshot && this.chip.tellsMore;
  }

  /** Whether the firmware drives this bridge as it must be driven. */
  get firmwareMatchesBridge(): boolean {
    const {identity, module, hardware} = this;
    if (!identity) return this.isForeign;
    return drives(identity, hardware) && (!module || drives(module, hardware));
  }

  /** What its clock reads of a pulse, µs. */
  readsPulse(trueUs: number): number {
    return trueUs * (this.hardware.clockShare ?? 1);
  }

  /** Share of full throttle that it takes an analog pulse for, 0…1; the first part stands for none. */
  shareOfPulse(trueUs: number): number {
    const {throttleMin = 1000, throttleMax = 2000} = this.settings;
    const share = (this.readsPulse(trueUs) - throttleMin) / (throttleMax - throttleMin);
    return share < deadShare ? 0 : Math.min(1, share);
  }

  /** How it drives its motor at a speed, as its settings say. */
  drive(rpm: number): Drive {
    this.driven ??= this.settingsDrive();
    if (this.pwm !== pwmFollows) return this.driven;
    return {...this.driven, bridge: {...this.driven.bridge, pwmHz: followingPwmHz(rpm, this.settings)}};
  }

  /** In kHz, or one that follows the speed. */
  private get pwm(): number {
    return this.identity?.pwmKhz ?? this.settings.pwm ?? 24;
  }

  private settingsDrive(): Drive {
    const brakes = this.settings.activeBraking === 1;
    return {
      bridge: {
        pwmHz: this.pwm * 1000,
        deadTimeS: this.hardware.deadTimeNs * 1e-9,
        brakeShare: brakes ? brakeShare(this.settings.brakeStrength ?? 60) : 0,
        limitAmps: valueIn(this.settings, 'currentLimit'),
      },
      timing: valueIn(this.settings, 'timing'),
      demag: valueIn(this.settings, 'demag'),
      startLowUs: this.settings.startLow ?? valueIn(this.settings, 'startHigh'),
      startHighUs: valueIn(this.settings, 'startHigh'),
    };
  }

  /** Why the bootloader will not change `range`; undefined when it may. */
  writeRefusal(range: AddressRange): string | undefined {
    const {bootloader, flashBytes} = this.chip;
    if (range.start < bootloader.end && range.end > bootloader.start) return 'protected';
    return range.end > flashBytes || range.start < 0 ? 'bad-address' : undefined;
  }
}

const hasReplies = (firmware: Identity | undefined): boolean => !!firmware?.features.includes('replies');

const drives = (firmware: Identity, bridge: Hardware): boolean =>
  firmware.board === bridge.board && firmware.deadTimeNs === bridge.deadTimeNs;
