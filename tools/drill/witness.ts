/** Looks into the simulator's flash and holds every account against it. Knows nothing of the runner. */
import {flatten} from '@core/firmware/image';
import {regionOf} from '@core/firmware/plan/page-plan';
import {decodeSettings} from '@core/settings/page';
import type {KeptApplications} from '@simulator/testing/kept-applications';
import type {JournalEntry} from '@core/run/journal';
import {holdsMelody} from '@core/run/resume/leaves-values';
import type {ImageToWrite, SettingsTarget, Step, StepOf} from '@core/order/steps';
import type {WorkOrder} from '@core/order/work-order';
import {canonicalJson, sameJson} from '@core/canonical-json';
import {compareVersions} from '@core/firmware/identity';
import type {PlannedSettings} from '@core/controller/settings/planned-settings';
import type {SettingValue, SettingValues} from '@core/link/setting-shapes';
import {converted, convertedAlone} from '@simulator/hardware/controller/plumb-settings/converted';
import {plumbSettings} from '@simulator/hardware/controller/plumb-settings/plumb-settings';
import type {SimulatedBench} from '@simulator/hardware/bench';

export class Witness {
  /** What the journal said that was not so. */
  readonly untrue: string[] = [];
  /** Proofs that hold and were taken on nothing. */
  emptyProofs = 0;
  /** Set while plugs are swapped: what the journal says of outputs then is not what this witness knows of them. */
  isSwapped = false;
  /** An adapter did something to the flight controller a second time, seconds late. */
  private isDisturbed = false;
  /** ESCs on which an adapter did something a second time, seconds late: no account can know of that. */
  private readonly touched = new Set<number>();
  /** What the flight controller held beside its configuration when the drill began. */
  private readonly controllerBefore: {readonly version: string; readonly settings: SettingValues};
  private readonly bootloaders: readonly Uint8Array[];
  /** Firmware of others, by output, as it was before anything was written. */
  private readonly foreign: ReadonlyMap<number, Uint8Array>;
  private readonly lostForeign = new Set<number>();
  /** Undefined where someone's hand spoilt the page: nothing of it can be lost any more. */
  private pagesBefore: readonly (Uint8Array | undefined)[];

  constructor(
    private readonly bench: SimulatedBench,
    private readonly kept: KeptApplications,
  ) {
    this.bootloaders = bench.escs.map(({flash, chip}) =>
      flash.read(chip.bootloader.start, chip.bootloader.end - chip.bootloader.start),
    );
    this.foreign = new Map(
      bench.escs.flatMap(({hardware}, output) =>
        hardware.foreignCrc32 === undefined ? [] : [[output, this.application(output)] as const],
      ),
    );
    this.pagesBefore = bench.escs.map((_, output) => this.settingsPage(output));
    const {identity, keptSettings} = bench.controller;
    this.controllerBefore = {version: identity.version, settings: keptSettings};
  }

  private application(output: number): Uint8Array {
    const {flash, chip} = this.bench.escs[output]!;
    return flash.read(chip.application.start, chip.application.end - chip.application.start);
  }

  /** Whether the firmware of others that this ESC held can still be had, byte for byte. */
  private isKept(output: number, was: Uint8Array): boolean {
    return this.kept.all.some(
      (k) => k.output === output && k.bytes.length === was.length && was.every((byte, i) => byte === k.bytes[i]),
    );
  }

  /** ESCs whose firmware of others was written over and can be had nowhere. */
  get foreignLost(): number {
    return this.lostForeign.size;
  }

  /** A new order begins: what its ESCs hold now is what must not get lost. */
  forget(): void {
    this.pagesBefore = this.bench.escs.map((_, output) => this.settingsPage(output));
  }

  /** Someone changed the settings of an ESC: what it holds now is what must not get lost. */
  someoneChanged(output: number, reads: boolean): void {
    const now = reads ? this.settingsPage(output) : undefined;
    this.pagesBefore = this.pagesBefore.map((page, i) => (i === output ? now : page));
  }

  /** Told of a request that was carried out again; `argument` is what came with it. */
  disturbed(argument: unknown): void {
    const {output} = (argument ?? {}) as {output?: number};
    // On an adapter the one wire leads to whatever it is clipped to.
    const at = this.bench.road === 'single-wire' ? this.bench.clippedTo : output;
    if (at !== undefined) this.touched.add(at);
    else this.isDisturbed = true;
  }

  /** An adapter carried something out a second time, somewhere. */
  get isDisturbedAtAll(): boolean {
    return this.isDisturbed || this.touched.size > 0;
  }

  /** Called with every journal entry at the moment it is written. */
  hear(order: WorkOrder, entry: JournalEntry): void {
    const step = order.steps.find((s) => s.id === entry.stepId);
    if (entry.proof?.holds && !(entry.proof.on.length > 0 && entry.proof.count > 0)) this.emptyProofs++;
    if (!step || this.isSwapped) return;
    const {output = -1} = entry;
    const was = entry.event === 'page' ? this.foreign.get(output) : undefined;
    if (was && !this.isKept(output, was)) this.lostForeign.add(output);
    const lies =
      entry.event === 'page' ? this.pageLie(step, entry) : entry.event === 'done' ? this.doneLie(step) : undefined;
    if (lies && !this.isTouched(step, entry)) this.untrue.push(`${entry.stepId} ${entry.event}: ${lies}`);
    if (entry.proof?.kind === 'pages' && step.kind === 'prove-pages')
      for (const t of step.targets)
        for (const {part, sha256} of t.images)
          if (!this.touched.has(t.output) && !this.holds(t.output, sha256, part))
            this.untrue.push(`proof of motor ${t.output + 1}`);
    if (entry.proof?.kind === 'pages' && step.kind === 'prove-pages')
      for (const t of step.targets)
        if (t.noModule && !this.touched.has(t.output) && !this.isModuleClear(t.output))
          this.untrue.push(`module of motor ${t.output + 1}`);
  }

  private isTouched(step: Step, entry: JournalEntry): boolean {
    const targets = 'target' in step ? [step.target] : 'targets' in step ? step.targets : [];
    return targets.some((t) => this.touched.has(t.output)) || this.touched.has(entry.output ?? -1);
  }

  private pageLie(step: Step, {address, output}: JournalEntry): string | undefined {
    if (address === undefined || output === undefined) return 'names no page';
    const writes: readonly ImageToWrite[] =
      step.kind === 'write-firmware' ? [step] : step.kind === 'visit' ? step.writes : [];
    const {flash, chip} = this.bench.escs[output]!;
    const now = flash.read(address, chip.pageBytes);
    const right = writes.some(({image, part}) => {
      const region = regionOf(chip, part);
      if (address < region.start || address >= region.end) return false;
      const page = flatten(this.kept.image(image.sha256), {start: address, end: address + chip.pageBytes});
      return page.every((byte, i) => byte === now[i]);
    });
    return right ? undefined : `page ${address} of motor ${output + 1}`;
  }

  private doneLie(step: Step): string | undefined {
    if (step.kind === 'write-firmware')
      return this.holds(step.target.output, step.image.sha256, step.part) ? undefined : 'flash is not the image';
    if (step.kind === 'visit') {
      const missing = step.proves.images.some(({part, sha256}) => !this.holds(step.target.output, sha256, part));
      return missing ? 'flash is not the image' : step.settings && this.settingsLie(step.settings);
    }
    if (step.kind === 'set-parameters')
      return step.targets.map((t) => this.settingsLie(t)).find((lie) => lie !== undefined);
    if (step.kind === 'write-controller') {
      const {firmware, isActive} = this.bench.loader;
      return !isActive && firmware?.version === step.to.version ? undefined : 'the flight controller does not run it';
    }
    if (step.kind === 'set-controller') return this.controllerLie(step.config);
    if (step.kind === 'set-settings') return this.otherSettingsLie(step);
    if (step.kind === 'restore-settings')
      return step.targets.every((t) => this.settingsPage(t.output).every((byte, i) => byte === t.page[i]))
        ? undefined
        : 'a settings page is not as before';
    return undefined;
  }

  private settingsLie(target: SettingsTarget): string | undefined {
    const {output, layout, values} = target;
    const page = this.settingsPage(output);
    if (!holdsMelody(target, page)) return `melody of motor ${output + 1}`;
    const decoded = decodeSettings(page);
    if (!decoded.ok || decoded.value.layout !== layout) return `settings of motor ${output + 1} do not read`;
    const now = decoded.value.values as Readonly<Record<string, number>>;
    const wrong = Object.entries(values).find(([key, value]) => now[key] !== value);
    return wrong && `${wrong[0]} of motor ${output + 1}`;
  }

  /** A field that the flight controller keeps otherwise than it was given; one that its firmware does not have is none. */
  private otherSettingsLie({settings}: StepOf<'set-settings'>): string | undefined {
    if (this.isDisturbed) return undefined;
    const wrong = Object.entries(this.plannedTruth(settings)).find(
      ([key, value]) => !sameJson(this.heldNow(key), value),
    );
    return wrong && `the flight controller keeps another ${wrong[0]}`;
  }

  /** Planned settings as the firmware of now holds them, by the truth of how both are made. */
  private plannedTruth(settings: PlannedSettings): SettingValues {
    const isOlder = Object.values(settings).some(({version}) => compareVersions(version, '2.2') < 0);
    const values = Object.fromEntries(Object.entries(settings).map(([key, {value}]) => [key, value]));
    return isOlder && compareVersions(this.bench.controller.identity.version, '2.2') >= 0
      ? convertedAlone(values)
      : values;
  }

  private heldNow(key: string): SettingValue | undefined {
    const {identity, keptSettings} = this.bench.controller;
    return keptSettings[key] ?? plumbSettings(identity.version).find((e) => e.key === key)?.usual;
  }

  private controllerLie(config: Readonly<Record<string, unknown>>): string | undefined {
    if (this.isDisturbed) return undefined;
    const kept = this.bench.controller.kept as unknown as Readonly<Record<string, unknown>>;
    const wrong = Object.entries(config).find(
      ([field, value]) =>
        value !== undefined && kept[field] !== undefined && canonicalJson(kept[field]) !== canonicalJson(value),
    );
    return wrong && `the flight controller keeps another ${wrong[0]}`;
  }

  /** Fields of before that a finished order which wrote firmware anew did not put back, nor plan otherwise. */
  missedController(order: WorkOrder): number {
    const step = order.steps.find((s) => s.kind === 'set-controller');
    const before = order.found.controller?.config as Readonly<Record<string, unknown>> | undefined;
    if (!step || !before || this.isDisturbed || !order.steps.some((s) => s.kind === 'write-controller')) return 0;
    const kept = this.bench.controller.kept as unknown as Readonly<Record<string, unknown>>;
    const planned = order.plan.controller as Readonly<Record<string, unknown>>;
    const lost = Object.entries(before).filter(
      ([field, value]) =>
        planned[field] === undefined &&
        kept[field] !== undefined &&
        canonicalJson(kept[field]) !== canonicalJson(value),
    );
    return lost.length + this.missedSettingsBeside(order);
  }

  /** Of everything else that the flight controller held: how much is not what it was, by the truth of how both are made. */
  private missedSettingsBeside(order: WorkOrder): number {
    const set = order.steps.find((s) => s.kind === 'set-settings');
    const isCarried = order.steps.some((s) => s.kind === 'carry-settings');
    // New firmware whose settings a person chose not to have put back: they are in the snapshot.
    const isLeft = !isCarried && order.steps.some((s) => s.kind === 'write-controller');
    if (isLeft || (!set && !isCarried)) return 0;
    const {version, settings} = this.controllerBefore;
    const wanted = isCarried && compareVersions(version, '2.2') < 0 ? converted(settings) : settings;
    const planned = set ? this.plannedTruth(set.settings) : {};
    return Object.entries(wanted).filter(([key, value]) => !(key in planned) && !sameJson(this.heldNow(key), value))
      .length;
  }

  settingsPage(output: number): Uint8Array {
    const {flash, chip} = this.bench.escs[output]!;
    return flash.read(chip.settings.start, chip.pageBytes);
  }

  /** Whether an ESC holds an image, byte for byte. */
  holds(output: number, sha256: string, part: 'base' | 'module'): boolean {
    const {flash, chip} = this.bench.escs[output]!;
    const image = this.kept.image(sha256);
    const region = regionOf(chip, part);
    return image.segments.every(({start, bytes}) => {
      const now = flash.view(start, start + bytes.length);
      return start >= region.start && bytes.every((byte, i) => byte === now[i]);
    });
  }

  /** Whether nothing lies in the module region, where the chip has one. */
  private isModuleClear(output: number): boolean {
    const {flash, chip} = this.bench.escs[output]!;
    return !chip.module || flash.view(chip.module.start, chip.module.end).every((byte) => byte === 0xff);
  }

  /** ESCs whose bootloader is not what it was, or that no longer answer with power on; a controller that runs neither firmware nor loader. */
  bricked(): number {
    const {loader} = this.bench;
    const controller = Number(!loader.isActive && !loader.firmware);
    return (
      controller +
      this.bench.escs.filter(({flash, chip, state}, i) => {
        const {start, end} = chip.bootloader;
        const before = this.bootloaders[i]!;
        const whole = flash.view(start, end).every((byte, at) => byte === before[at]);
        return !whole || (this.bench.isBatteryOn && state === 'off');
      }).length
    );
  }

  /** ESCs that run an image made for another bridge, or have burnt. */
  wrongImages(): number {
    return this.bench.escs.filter((e) => e.burnt || (e.state === 'running' && !e.firmwareMatchesBridge)).length;
  }

  /**
   * ESCs whose settings can be had nowhere any more: neither the page of before (in flash or in a snapshot), nor what the
   * order wanted there.
   */
  lostSettings(order: WorkOrder, entries: readonly JournalEntry[]): number {
    if (this.isSwapped) return 0;
    return order.found.escs.filter(({output}) => {
      const before = this.pagesBefore[output];
      if (!before) return false;
      const same = (page: Uint8Array) => page.every((byte, i) => byte === before[i]);
      const kept = entries.some((e) => e.snapshot?.some((s) => s.output === output && same(s.page)));
      return !kept && !same(this.settingsPage(output));
    }).length;
  }

  /** ESCs, but for `except`, that a finished order left without the settings it was to write. */
  missedSettings(order: WorkOrder, except: ReadonlySet<number>): number {
    const targets = order.steps.flatMap((s) =>
      s.kind === 'set-parameters' ? s.targets : s.kind === 'visit' && s.settings ? [s.settings] : [],
    );
    return targets.filter(
      ({output, ...t}) =>
        !this.touched.has(output) && !except.has(output) && this.settingsLie({output, ...t}) !== undefined,
    ).length;
  }
}
