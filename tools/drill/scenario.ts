/** A random bench, plan and work order for one drill run, all from one seed. */
import type {Craft, PlannedValue} from '@core/craft/craft';
import {demoFleet} from '@core/craft/demo-fleet';
import {chips} from '@core/firmware/chips';
import type {HardwareClaim} from '@core/firmware/fit';
import {
  isLayoutRevision,
  parameterDefinitions,
  storageOf,
  type LayoutRevision,
  type ParameterDefinition,
} from '@core/settings/definitions';
import type {Settings} from '@core/settings/page';
import {benches} from '@simulator/benches';
import type {BenchSetup} from '@simulator/bench';
import {fillFlash} from '@simulator/esc-flash';
import {Random} from '@simulator/random';
import {publishedReleases, type PublishedRelease} from '@simulator/releases';

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
  const escs = before.escs.map((esc, output) => {
    if (esc.hardware.foreignCrc32 !== undefined) return esc;
    const {image, release} = pick(random, fitting);
    const layout = layoutOf(release);
    const chip = chips[esc.hardware.chip];
    const settings = randomSettings(random, layout);
    return {...esc, flash: fillFlash(chip, {images: [image], layout, settings, seed: seed * 16 + output})};
  });
  const claims = new Map(
    before.escs.map(({hardware: {serial, board, chip, deadTimeNs}}) => [
      serial,
      {serial, board, chip, deadTimeNs, by: 'drill', at: 0},
    ]),
  );
  return {craft: randomPlan(random, first, fitting), setup: {...before, escs}, claims};
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
  return {...craft, plan: {...craft.plan, parameters, firmware: {family, version, ...(pwmKhz && {pwmKhz})}}};
}
