/** Asks everything on the bench who it is and what it holds. */
import {readSettings} from '../controller/settings/board-settings';
import {runningName} from '../firmware/controller-releases';
import {crc32} from '../checksums';
import {findChip, pageCount, type Chip} from '../firmware/chips';
import type {Hardware, HardwareClaim} from '../firmware/plan/fit';
import {checkApplication, identityBytes, isWithin, readIdentity, type Identity} from '../firmware/identity';
import {readConfig} from './controller-access';
import type {BenchClient} from '../link/client';
import type {BootIdentity, Hello, Power} from '../link/operations';
import {ProblemError, type Problem} from '../problem';
import {decodeSettings} from '../settings/page';
import {variantNamed} from '../settings/variant';
import {sideBySide} from '../side-by-side';
import {pageChecksum, readFlash, type EscWire} from './esc-access';
import type {Found, FoundController, FoundEsc, SilentEsc} from './found';

/** What is known of ESCs from before, by chip serial. */
export interface KnownEscs {
  readonly hardware: ReadonlyMap<string, Hardware>;
  readonly claims: ReadonlyMap<string, HardwareClaim>;
}

interface SurveyOptions {
  /** Epoch ms to stamp the result with. */
  readonly at: number;
  /** Share done, 0…1, and what is being asked. */
  readonly onProgress?: (share: number, text: string) => void;
  readonly known?: KnownEscs | undefined;
}

/**
 * Surveys everything behind a flight controller, all ESCs side by side. One silent ESC does not hide the others; a closed
 * link rejects.
 */
export async function survey(client: BenchClient, {at, onProgress, known}: SurveyOptions): Promise<Found> {
  const hello = await client.hello();
  const power = await client.request('power', null);
  if (isInLoader(client)) return inLoader(client, {at, hello, power});
  const controller = await readController(client);
  const shares = Array.from({length: hello.outputs}, () => 0);
  const asked = await sideBySide(shares, async (_, output): Promise<FoundEsc | SilentEsc> => {
    const report = (share: number) => {
      shares[output] = share;
      const all = shares.reduce((sum, s) => sum + s, 0) / shares.length;
      onProgress?.(all, `${shares.filter((s) => s === 1).length} of ${shares.length} ESCs read`);
    };
    try {
      return await readEsc({client, wire: output, name: `motor ${output + 1}`}, {output, at, known, report});
    } catch (error) {
      // What ended the link says more than what an ESC last answered.
      if (client.ended) throw new ProblemError(client.ended);
      if (!(error instanceof ProblemError)) throw error;
      return {output, problem: error.problem};
    } finally {
      report(1);
    }
  });
  const escs = asked.flatMap((a) => ('boot' in a ? [a] : []));
  const silent = asked.flatMap((a) => ('boot' in a ? [] : [a]));
  return {at, adapter: hello.adapter, road: hello.road, power, escs, silent, controller};
}

/** Whether the adapter is a flight controller on which no firmware runs; greet it first. */
export const isInLoader = (client: BenchClient): boolean =>
  !client.can('controller.identify') && client.can('loader.identify');

/** What a flight controller in its loader tells: itself, and no ESC. */
async function inLoader(
  client: BenchClient,
  {at, hello, power}: {readonly at: number; readonly hello: Hello; readonly power: Power},
): Promise<Found> {
  const loader = await client.request('loader.identify', null);
  const silent = Array.from({length: hello.outputs}, (_, output): SilentEsc => ({
    output,
    problem: behindLoader(output),
  }));
  return {at, adapter: hello.adapter, road: hello.road, power, escs: [], silent, controller: undefined, loader};
}

const behindLoader = (output: number): Problem => ({
  code: 'in-loader',
  place: `motor ${output + 1}`,
  meaning: 'The flight controller is in its loader: nothing passes through it.',
  remedy: 'Write its firmware with the work order, then survey again.',
});

interface ArmSurveyOptions extends SurveyOptions {
  /** Arm the adapter is clipped to, by output. */
  readonly output: number;
  readonly outputs: number;
  /** What the round has found so far. */
  readonly before: Found | undefined;
}

/**
 * Surveys the one ESC a single-wire adapter is clipped to and lays it over what the round found before. Rejects when it is
 * silent, with the cause told apart; the rest of the round stays.
 */
export async function surveyArm(client: BenchClient, options: ArmSurveyOptions): Promise<Found> {
  const {at, output, outputs, before, onProgress, known} = options;
  const hello = await client.hello();
  const power = await client.request('power', null);
  const place = `arm ${output + 1}`;
  const report = (share: number) => onProgress?.(share, `Arm ${output + 1}`);
  const keep = (escs: readonly FoundEsc[], problem?: Problem): Found => ({
    at,
    adapter: hello.adapter,
    road: hello.road,
    power,
    escs,
    silent: Array.from({length: outputs}, (_, o) => o)
      .filter((o) => !escs.some((e) => e.output === o))
      .map((o) => {
        const earlier = before?.silent.find((s) => s.output === o)?.problem;
        return {output: o, problem: (o === output && problem) || (earlier ?? notVisited(o))};
      }),
    controller: before?.controller,
  });
  const others = (before?.escs ?? []).filter((e) => e.output !== output);
  let esc: FoundEsc;
  try {
    esc = await readEsc({client, wire: 0, name: place}, {output, at, known, report});
  } catch (error) {
    if (!(error instanceof ProblemError) || client.isClosed) throw error;
    return keep(others, error.problem);
  }
  const twin = others.find((e) => e.boot.serial === esc.boot.serial);
  if (twin)
    throw new ProblemError({
      code: 'same-esc',
      place,
      meaning: `This is the ESC of arm ${twin.output + 1}, serial ${esc.boot.serial}, which was read before.`,
      remedy: `Clip the adapter to arm ${output + 1}.`,
    });
  report(1);
  return keep([...others, esc].sort((a, b) => a.output - b.output));
}

const notVisited = (output: number): Problem => ({
  code: 'not-visited',
  place: `arm ${output + 1}`,
  meaning: 'The adapter was not clipped to it yet.',
  remedy: 'Clip it on and read it.',
});

async function readController(client: BenchClient): Promise<FoundController> {
  const identity = await client.request('controller.identify', null);
  const config = await readConfig(client);
  const mixer = client.can('mixer.read') ? await client.request('mixer.read', null) : [];
  const locks = client.can('locks.read') ? await client.request('locks.read', null) : [];
  const settings = client.can('settings.describe') ? await settingsOrNone(client, runningName(identity)) : undefined;
  return {identity, config, ...(mixer.length && {mixer}), ...(locks.length && {locks}), ...settings};
}

/** A link that drops long transfers brings no settings: that is told, and nothing else is held up by it. */
async function settingsOrNone(
  client: BenchClient,
  firmware: string,
): Promise<Pick<FoundController, 'settings' | 'unread'>> {
  try {
    return {settings: await readSettings(client, firmware)};
  } catch (error) {
    if (!(error instanceof ProblemError) || error.problem.code !== 'unanswered' || client.isClosed) throw error;
    await client.request('power', null);
    return {unread: 'settings'};
  }
}

/**
 * Reads the flight controller alone, laid over what a round with the single-wire adapter found: one that cannot pass through
 * tells nothing of the ESCs.
 */
export async function surveyController(client: BenchClient, round: Found): Promise<Found> {
  await client.hello();
  const power = await client.request('power', null);
  return {...round, plugged: 'controller', power, controller: await readController(client)};
}

/** Calls an ESC into its bootloader; on an adapter in the other dialect when the first is not understood. */
export async function enterEsc({client, wire, name}: EscWire): Promise<BootIdentity> {
  try {
    return await client.request('esc.enter', {output: wire});
  } catch (error) {
    const {road} = await client.hello();
    if (!(error instanceof ProblemError) || error.problem.code !== 'no-answer' || road !== 'single-wire') throw error;
  }
  for (const dialect of ['B', 'A'] as const) {
    await client.request('adapter.dialect', {dialect});
    try {
      return await client.request('esc.enter', {output: wire});
    } catch (error) {
      if (!(error instanceof ProblemError) || error.problem.code !== 'no-answer') throw error;
    }
  }
  throw new ProblemError({
    code: 'no-bootloader',
    place: name,
    meaning: 'It has power, but no bootloader answers, neither in dialect A nor in B.',
    remedy:
      'Check the signal wire. If it is sound, this ESC has no bootloader and must be replaced or programmed on its pads.',
  });
}

interface ReadOptions {
  readonly output: number;
  readonly at: number;
  readonly known: KnownEscs | undefined;
  readonly report: (share: number) => void;
}

async function readEsc(wire: EscWire, {output, at, known, report}: ReadOptions): Promise<FoundEsc> {
  const boot = await enterEsc(wire);
  const chip = findChip(boot.chip);
  if (!chip)
    throw new ProblemError({
      code: 'unknown-chip',
      place: wire.name,
      meaning: `Its chip calls itself ${boot.chip}, which Bidex does not know.`,
      remedy: 'It is left alone.',
    });
  const content = chip.canChecksum ? await readChecksums(wire, chip, report) : await readWhole(wire, chip, report);
  const settingsPage = await readFlash(wire, chip.settings.start, chip.pageBytes);
  await wire.client.request('esc.leave', {output: wire.wire});
  const identity = boot.applicationValid ? content.identity : undefined;
  const decoded = decodeSettings(settingsPage, variantNamed(identity?.variant));
  const claim = known?.claims.get(boot.serial);
  const hardware = identity ?? known?.hardware.get(boot.serial) ?? claim;
  return {
    output,
    at,
    boot,
    identity,
    module: identity && moduleOn(identity, content.module),
    hardware: hardware && {board: hardware.board, chip: hardware.chip, deadTimeNs: hardware.deadTimeNs},
    claim: hardware === claim ? claim : undefined,
    settingsPage,
    settings: decoded.ok ? decoded.value : undefined,
    pageCrcs: content.pageCrcs,
    application: content.application,
  };
}

interface Content {
  readonly identity: Identity | undefined;
  readonly module: Identity | undefined;
  readonly pageCrcs: readonly number[];
  readonly application: Uint8Array | undefined;
}

/** Identity blocks read, pages by the bootloader's checksum. */
async function readChecksums(wire: EscWire, chip: Chip, report: (share: number) => void): Promise<Content> {
  const {application, module, pageBytes} = chip;
  const block = readIdentity(await readFlash(wire, application.start, identityBytes));
  const moduleBlock = module && readIdentity(await readFlash(wire, module.start, identityBytes));
  const pageCrcs: number[] = [];
  const pages = pageCount(chip, application);
  for (let page = 0; page < pages; page++) {
    pageCrcs.push(await pageChecksum(wire, chip, application.start + page * pageBytes));
    report(page / (pages + 1));
  }
  const found = moduleBlock?.ok ? moduleBlock.value : undefined;
  const whole = found && (await moduleChecks(wire, module!.start, found));
  return {
    identity: block.ok ? block.value : undefined,
    module: whole ? found : undefined,
    pageCrcs,
    application: undefined,
  };
}

/** Whether the body of a reply module is whole, by the bootloader's checksum over it. */
async function moduleChecks(
  {client, wire}: EscWire,
  start: number,
  {imageLength, bodyCrc32}: Identity,
): Promise<boolean> {
  const length = imageLength - identityBytes;
  if (length <= 0) return false;
  const address = start + identityBytes;
  return (await client.request('esc.checksum', {output: wire, address, length})) === bodyCrc32;
}

/** Everything read, where the bootloader cannot checksum. */
async function readWhole(wire: EscWire, chip: Chip, report: (share: number) => void): Promise<Content> {
  const {start, end} = chip.application;
  const application = await readFlash(wire, start, end - start, report);
  const check = checkApplication(application);
  const pageCrcs = Array.from({length: pageCount(chip, chip.application)}, (_, page) =>
    crc32(application.subarray(page * chip.pageBytes, (page + 1) * chip.pageBytes)),
  );
  return {identity: check.ok ? check.value : undefined, module: undefined, pageCrcs, application};
}

const moduleOn = (base: Identity, module: Identity | undefined): Identity | undefined =>
  module?.variant === 'reply-module' &&
  module.family === base.family &&
  module.base &&
  isWithin(base.version, module.base)
    ? module
    : undefined;
