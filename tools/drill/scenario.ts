/** A random bench, plan and work order for one drill run, all from one seed. */
import {wantedDirections, type Craft, type Plan, type PlannedValue} from '@core/craft/craft';
import {keepsMelody} from '@core/sounds/melody-block';
import {demoFleet} from '@demo/craft/fleet';
import {findControllerChip, keepsUsb} from '@core/controller/firmware/chips';
import {asMixerSetting, mixerEntry} from '@core/craft/own-mixer';
import {withSettings, type PlannedSettings, type SettingEdits} from '@core/controller/settings/planned-settings';
import {mixerOf} from '@core/craft/mixer';
import type {SettingEntry} from '@core/link/setting-shapes';
import {chips} from '@core/firmware/chips';
import type {HardwareClaim} from '@core/firmware/plan/fit';
import {compareVersions, isWithin} from '@core/firmware/identity';
import type {Image} from '@core/firmware/image';
import {
  isLayoutRevision,
  parameterDefinitions,
  storageOf,
  type LayoutRevision,
  type ParameterDefinition,
} from '@core/settings/definitions';
import type {Settings} from '@core/settings/page';
import {benches} from '@simulator/benches/benches';
import type {BenchSetup} from '@simulator/hardware/bench-setup';
import {fillFlash} from '@simulator/hardware/esc/esc-flash';
import {describeSettings} from '@simulator/hardware/controller/held-settings';
import {isCarried} from '@simulator/hardware/controller/plumb-settings/converted';
import {drawnSettings} from '@simulator/hardware/controller/plumb-settings/drawn';
import {Random} from '@simulator/random';
import {withPlumb} from '@simulator/firmware/plumb';
import {moduleBounds} from '@simulator/firmware/reply-module';
import {publishedReleases, type PublishedRelease} from '@simulator/firmware/releases';

/** Share of a controller's settings that a person has set. */
const setSettings = 0.4;
/** Share of them that is planned. */
const plannedSettings = 0.04;

export interface Scenario {
  readonly craft: Craft;
  readonly setup: BenchSetup;
  readonly claims: ReadonlyMap<string, HardwareClaim>;
}

const releases = publishedReleases();
const pick = <T>(random: Random, list: readonly T[]): T => list[random.below(list.length)]!;

export function makeScenario(craftId: string, seed: number): Scenario {
  const random = new Random(seed);
  const first = demoFleet.find((c) => c.id === craftId);
  const bench = benches[craftId];
  if (!first || !bench) throw new RangeError(`There is no demo craft "${craftId}"`);
  const before = bench(seed);
  const {bootRevision} = before.escs[0]!.hardware;
  const fitting = releases.filter(
    ({release: r}) => r.board === first.escBoard && r.variant === 'multirotor' && r.bootRevision <= bootRevision,
  );
  const twins = random.next() < twinShare;
  const escs = before.escs.map((esc, output) => {
    if (esc.hardware.foreignCrc32 !== undefined) return esc;
    const {image, release} = pick(random, fitting);
    const layout = layoutOf(release);
    const chip = chips[esc.hardware.chip];
    const settings = randomSettings(random, layout);
    const images = [image, ...moduleFor(random, release)];
    // Chips that were copied with their serial: the two last ESCs of a flight controller.
    const serial =
      twins && output === 1 && before.road === 'controller' ? before.escs[0]!.hardware.serial : esc.hardware.serial;
    const hardware = {...esc.hardware, serial};
    return {...esc, hardware, flash: fillFlash(chip, {images, layout, settings, seed: seed * 16 + output})};
  });
  const claims = new Map(
    before.escs.map(({hardware: {serial, board, chip, deadTimeNs}}) => [
      serial,
      {serial, board, chip, deadTimeNs, by: 'drill', at: 0},
    ]),
  );
  const craft = randomPlan(random, first, fitting);
  return withController(random, {craft, setup: {...before, escs}, claims});
}

/** Another version of the flight controller's firmware is planned, or on it: now and then one that passes through to no ESC. */
function withController(random: Random, scenario: Scenario): Scenario {
  const {craft, setup} = scenario;
  const {identity, saved} = setup.controller;
  const version = pick(random, ['2.2', '2.2', '2.3-b1']);
  const firmware = {family: 'Plumb', version};
  const held = random.next() < 0.5 ? identity.version : pick(random, ['2.0', '2.2', '2.3-b1']);
  const settings = drawnSettings(held, random, setSettings);
  const controller = {...withPlumb(identity.board, held, identity), saved, settings};
  const fields = {...craft.plan.controller, ...lockedFields(random, craft, identity.chip)};
  const others = plannedOthers(random, {...craft, plan: {...craft.plan, controller: fields}}, held);
  const plan = {...craft.plan, controller: fields, controllerFirmware: firmware, ...(others && {settings: others})};
  return {...scenario, craft: {...craft, plan}, setup: {...setup, controller}};
}

/** In half of the runs: some of the other settings, planned by what the firmware describes that is on it. */
function plannedOthers(random: Random, craft: Craft, version: string): PlannedSettings | undefined {
  if (random.next() < 0.5) return undefined;
  const entries = describeSettings(version);
  const drawn = Object.entries(drawnSettings(version, random, plannedSettings));
  const values = Object.fromEntries(
    drawn.filter(([key, value]) => compareVersions(version, '2.2') >= 0 || isCarried(key, value)),
  );
  const mixer = random.next() < 0.3 ? computedMixer(craft, entries) : {};
  return withSettings(undefined, {version, entries}, {...values, ...mixer});
}

/** The mixer of the craft as one of the flight controller's own. */
function computedMixer(craft: Craft, entries: readonly SettingEntry[]): SettingEdits {
  const {rows} = mixerOf(craft.arms, wantedDirections(craft));
  const entry = mixerEntry(entries)!;
  const fitted = asMixerSetting(
    entry,
    craft.plan.controller.arms.map((arm) => rows[arm]!),
  );
  return 'value' in fitted ? {[entry.key]: fitted.value} : {};
}

/** Fields that can be set only with the battery off or the transmitter off, and a raised clock, now and then. */
function lockedFields(random: Random, {arms, plan}: Craft, chip: string): Partial<Plan['controller']> {
  const turned = plan.controller.arms.map((_, i, all) => all[(i + 2) % arms.length]!);
  const raised = findControllerChip(chip)!.raisedMhz.filter((mhz) => keepsUsb(chip, mhz));
  return {
    ...(random.next() < 0.2 && {arms: turned}),
    ...(random.next() < 0.2 && {failSafe: {action: 'drop', afterMs: 300 + random.below(3) * 100}}),
    ...(raised.length > 0 && random.next() < 0.15 && {clockMhz: pick(random, raised)}),
  };
}

const twinShare = 0.08;

/** On boards that have reply modules: one in half of the ESCs, whole, or the rest of one that was begun. */
function moduleFor(random: Random, base: PublishedRelease['release']): Image[] {
  const modules = releases.filter(
    ({release: m}) =>
      m.board === base.board && m.variant === 'reply-module' && m.base !== undefined && isWithin(base.version, m.base),
  );
  if (!modules.length || random.next() < 0.5) return [];
  const {image} = pick(random, modules);
  if (random.next() < 0.7) return [image];
  return [{segments: image.segments.map(({start, bytes}) => ({start: start + 0x400, bytes: bytes.slice(0x400)}))}];
}

/** Layout of the settings page a release uses, from its image. */
function layoutOf(release: PublishedRelease['release']): LayoutRevision {
  const {image} = releases.find((p) => p.release.id === release.id)!;
  const layout = image.segments[0]!.bytes[5]!;
  if (!isLayoutRevision(layout)) throw new RangeError(`${release.id} has layout ${layout}`);
  return layout;
}

function randomSettings(random: Random, layout: LayoutRevision): Settings {
  return Object.fromEntries(
    parameterDefinitions.flatMap((d) => {
      const place = storageOf(d, layout);
      return place ? [[d.key, randomValue(random, d, place.lacks)]] : [];
    }),
  );
}

function randomValue(random: Random, d: ParameterDefinition, lacks: readonly number[] = []): number {
  if (d.choices)
    return pick(
      random,
      d.choices.map((c) => c.value).filter((v) => !lacks.includes(v)),
    );
  return d.min + random.below(Math.round((d.max - d.min) / d.step) + 1) * d.step;
}

/** One melody for all, or a voice for each motor; some of them nothing. */
function randomMelodies(random: Random, motors: number): Plan['melodies'] {
  const text = (): string =>
    `x:d=8,o=5,b=${300 + random.below(200)}:${Array.from({length: 1 + random.below(20)}, () => pick(random, ['c', '16d#6.', 'p', '4a'])).join(',')}`;
  return random.next() < 0.5
    ? {kind: 'same', text: text()}
    : {kind: 'per motor', texts: Array.from({length: motors}, text)};
}

/** Another version and a few other values than the demo's plan; one parameter in four per motor. */
function randomPlan(random: Random, craft: Craft, fitting: readonly PublishedRelease[]): Craft {
  const {release} = pick(
    random,
    fitting.filter((p) => p.release.standing !== 'withdrawn'),
  );
  const layout = layoutOf(release);
  const parameters: Record<string, PlannedValue> = {...craft.plan.parameters};
  for (const d of parameterDefinitions) {
    const place = storageOf(d, layout);
    if (!place) delete parameters[d.key];
    else if (random.next() < 0.4) {
      const value = () => randomValue(random, d, place.lacks);
      parameters[d.key] =
        random.next() < 0.25 ? {kind: 'per motor', values: craft.arms.map(value)} : {kind: 'same', value: value()};
    }
  }
  const {family, version, pwmKhz} = release;
  const module = craft.plan.firmware.module !== undefined && isWithin(version, moduleBounds) && random.next() < 0.6;
  const firmware = {family, version, ...(pwmKhz && {pwmKhz}), ...(module && {module: '1.1'})};
  const melodies = keepsMelody(layout) && random.next() < 0.3 ? randomMelodies(random, craft.arms.length) : undefined;
  return {...craft, plan: {...craft.plan, parameters, firmware, ...(melodies && {melodies})}};
}
