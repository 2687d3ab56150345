/** One image file laid open: format, segments, identity, memory map, whether it fits the craft, what it can be held against. */
import {firmwareText, type Found, type FoundEsc} from '../../bench/found';
import {fitOf} from '../../compare/esc-firmware';
import type {Craft} from '../../craft/craft';
import {chips, type Chip} from '../../firmware/chips';
import {tellingReason} from '../../firmware/plan/fit';
import {signatureOf, type Identity} from '../../firmware/identity';
import {extent, type Image} from '../../firmware/image';
import {contentOf} from '../../firmware/formats/image-content';
import type {InspectedFile} from '../../firmware/inspect-image';
import {writeIntelHex} from '../../firmware/formats/intel-hex';
import {planPages, regionOf, type ImagePart, type PagePlan} from '../../firmware/plan/page-plan';
import {writeRaw} from '../../firmware/formats/raw-bytes';
import {releaseName, type Release} from '../../firmware/releases';
import {addressText} from '../../hex';
import {alike} from '../../words/alike';
import {counted} from '../../words/counted';
import {motorList} from '../../words/motor-list';
import {kibText} from '../../words/size';
import type {Choice} from '../choice';

export interface Inspected extends InspectedFile {
  /** Set for a release of the service. */
  readonly release: Release | undefined;
}

export interface InspectorNow {
  readonly file: Inspected;
  readonly craft: Craft | undefined;
  readonly found: Found | undefined;
  readonly releases: readonly Release[];
  /** Own files, by digest. */
  readonly files: readonly {readonly name: string; readonly sha256: string}[];
  readonly imageIn: (sha256: string) => Image | undefined;
  /** What it is held against: a digest, or "esc 2" for what an ESC was found to hold. */
  readonly against: string | null;
}

/** What the file says by itself. */
interface ImageSheet {
  readonly format: string;
  readonly standing: {readonly text: string; readonly kind: 'plan' | 'wait' | 'diff'};
  readonly note: string;
  /** Faults, the first of them; undefined where it has none. */
  readonly faults: FileFaults | undefined;
  readonly notes: readonly string[];
  /** Undefined where no identity block checks on any chip. */
  readonly identity: readonly (readonly [name: string, value: string])[] | undefined;
  readonly segments: Segments;
  readonly map: ChipMap | undefined;
  readonly canSaveHex: boolean;
  /** Where a file of raw bytes would begin; undefined where it cannot be one. */
  readonly rawFrom: string | undefined;
  /** Chip and region that it is for; undefined where nothing tells. */
  readonly home: Home | undefined;
}

interface InspectorSheet extends ImageSheet {
  readonly fits: FitsSheet | undefined;
  readonly others: Choice<string>[];
  readonly difference: DifferenceSheet | undefined;
}

interface FileFaults {
  readonly title: string;
  readonly lines: readonly {readonly place: string; readonly text: string}[];
  readonly more: string;
}

interface Segments {
  readonly title: string;
  readonly rows: readonly {readonly range: string; readonly bytes: string}[];
  readonly more: string;
}

interface ChipMap {
  readonly chip: string;
  readonly plan: PagePlan;
}

interface FitsSheet {
  readonly title: string;
  readonly rows: readonly {readonly motors: string; readonly verdict: string; readonly text: string}[];
}

type DifferenceSheet =
  | {readonly kind: 'bytes'; readonly right: Image; readonly pageBytes: number}
  | {readonly kind: 'pages'; readonly map: ChipMap; readonly text: string}
  | {readonly kind: 'other chip'; readonly text: string};

const formatNames = {'intel-hex': 'Intel HEX', 's-record': 'S-record', uf2: 'UF2', bin: 'raw bytes'} as const;
/** So many of each are told one by one. */
const [toldFaults, toldNotes, toldSegments] = [8, 3, 6];
/** Where the chip is not known, bytes, so that a difference can still be counted in pages. */
const assumedPageBytes = 1024;

export function imageSheet(file: Inspected): ImageSheet {
  const {reading} = file;
  const home = homeOf(reading.image);
  const raw = writeRaw(reading.image);
  return {
    format: `${formatNames[reading.format]}, ${kibText(file.sizeBytes)}.`,
    ...standingOf(file.release),
    faults: faultsOf(file),
    notes: reading.notes.slice(0, toldNotes).map(({line, text}) => `Note, line ${line}: ${text}`),
    identity: home && identityOf(home.identity, file.release),
    segments: segmentsOf(reading.image),
    map: home && {chip: home.chip.name, plan: planPages(home.chip, reading.image, [], home.part)},
    canSaveHex: reading.image.segments.length > 0,
    rawFrom: raw.ok ? addressText(raw.value.base) : undefined,
    home,
  };
}

/** @param image what the file says by itself: read once for a file, whatever it is held against. */
export const inspectorSheet = (now: InspectorNow, image = imageSheet(now.file)): InspectorSheet => ({
  ...{...image, fits: fitsOf(now, image.home), others: othersOf(now)},
  difference: differenceOf(now, image.home),
});

interface Home {
  readonly chip: Chip;
  readonly part: ImagePart;
  readonly identity: Identity;
}

/** The chip and region whose identity block checks in this image. */
function homeOf(image: Image): Home | undefined {
  if (!extent(image)) return undefined;
  for (const chip of Object.values(chips))
    for (const part of ['base', 'module'] as const) {
      if (part === 'module' && !chip.module) continue;
      const check = contentOf(image, chip, regionOf(chip, part)).identity;
      if (check.ok && check.value.chip === chip.name) return {chip, part, identity: check.value};
    }
  return undefined;
}

const standingKinds = {steady: 'plan', trial: 'wait', withdrawn: 'diff'} as const;

const standingOf = (release: Release | undefined): Pick<ImageSheet, 'standing' | 'note'> =>
  release
    ? {standing: {text: `${release.standing}, signed`, kind: standingKinds[release.standing]}, note: release.note}
    : {standing: {text: 'own file, not signed', kind: 'wait'}, note: ''};

function faultsOf({reading: {faults, format}}: InspectedFile): FileFaults | undefined {
  if (!faults.length) return undefined;
  const unit = format === 'uf2' ? 'block' : 'line';
  const more = faults.length - toldFaults;
  return {
    title: `${counted(faults.length, 'fault')}: it is not kept and cannot be written`,
    lines: faults.slice(0, toldFaults).map(({line, column, kind, text}) => ({
      place: `${unit} ${line}${column ? `, column ${column}` : ''}`,
      text: `${kind}: ${text}`,
    })),
    more: more > 0 ? `and ${more} more.` : '',
  };
}

function identityOf(identity: Identity, release: Release | undefined): ImageSheet['identity'] {
  const {base, pwmKhz, family, version, variant, layoutRevision, bootRevision, features} = identity;
  return [
    ['Firmware', `${family} ${version}, ${variant}`],
    ['Board signature', signatureOf(identity)],
    ['Settings layout', String(layoutRevision)],
    ['Bootloader', `revision ${bootRevision} or newer`],
    ...(pwmKhz === undefined ? [] : [['PWM build', `${pwmKhz} kHz`] as const]),
    ...(base ? [['Base firmware', `${family} ${base.lowest} to ${base.highest}`] as const] : []),
    ['Features', features.join(', ') || 'none'],
    ['Needs', release?.needsController ?? 'nothing of the flight controller'],
  ];
}

function segmentsOf({segments}: Image): Segments {
  const more = segments.length - toldSegments;
  return {
    title: `Memory, ${counted(segments.length, 'segment')}`,
    rows: segments.slice(0, toldSegments).map(({start, bytes}) => ({
      range: `${addressText(start)}–${addressText(start + bytes.length - 1)}`,
      bytes: `${bytes.length} B`,
    })),
    more: more > 0 ? `and ${more} more` : '',
  };
}

/** Verdict for each ESC of the craft in hand, as last found; ESCs of which the same is to be said share a line. */
function fitsOf({craft, found, file}: InspectorNow, home: Home | undefined): FitsSheet | undefined {
  if (!craft || !found?.escs.length || file.reading.faults.length) return undefined;
  const own = found.escs.map((esc) => ({output: esc.output, ...fitOn(esc, {craft, found, file, home})}));
  return {
    title: `On ${craft.name}, as last found`,
    rows: alike(own, (f) => `${f.verdict} ${f.text}`).map((group) => {
      const outputs = group.map((f) => f.output);
      return {motors: motorList(outputs, found.escs.length), verdict: group[0]!.verdict, text: group[0]!.text};
    }),
  };
}

interface FitPlace {
  readonly craft: Craft;
  readonly found: Found;
  readonly file: Inspected;
  readonly home: Home | undefined;
}

function fitOn(esc: FoundEsc, {craft, found, file, home}: FitPlace): {verdict: string; text: string} {
  if (!esc.hardware) return {verdict: 'refused', text: 'Its board is not known.'};
  const {name, sha256, release, reading} = file;
  const {standing, needsController} = release ?? {};
  const planned = {name, sha256, image: reading.image, standing, needsController};
  const fit = fitOf({craft, found, esc, planned, part: home?.part ?? 'base'});
  return {verdict: fit.verdict, text: tellingReason(fit)?.text ?? 'Board, flash, variant and settings hold.'};
}

/** Own files, ESCs as last found, and releases that are kept here. */
function othersOf({file, craft, found, releases, files, imageIn}: InspectorNow): Choice<string>[] {
  const isOther = ({sha256}: {readonly sha256: string}) => sha256 !== file.sha256;
  return [
    ...files.filter(isOther).map((f) => ({label: f.name, value: f.sha256})),
    ...(found?.escs ?? []).map((e) => ({
      label: `${craft?.name ?? ''} motor ${e.output + 1}: ${firmwareText(e)}`,
      value: `esc ${e.output}`,
    })),
    ...releases
      .filter((r) => isOther(r) && imageIn(r.sha256))
      .map((r) => ({
        label: `${releaseName(r)}, ${r.board}${r.variant.startsWith('heli') ? `, ${r.variant}` : ''}`,
        value: r.sha256,
      })),
  ];
}

function differenceOf(now: InspectorNow, home: Home | undefined): DifferenceSheet | undefined {
  const {against, found, file} = now;
  if (against === null) return undefined;
  const right = now.imageIn(against);
  if (right) return {kind: 'bytes', right, pageBytes: home?.chip.pageBytes ?? assumedPageBytes};
  const esc = found?.escs.find((e) => `esc ${e.output}` === against);
  if (!esc) return undefined;
  if (!home || home.chip.name !== esc.boot.chip)
    return {kind: 'other chip', text: "This image is not for that ESC's chip, so there are no pages to compare."};
  // Its bytes are not known unless it was read out.
  const plan = planPages(home.chip, file.reading.image, esc.pageCrcs, home.part);
  return {
    ...{kind: 'pages', map: {chip: home.chip.name, plan}},
    text: `${plan.toWrite.length} of ${plan.image.length} pages differ from motor ${esc.output + 1}, by the checksums of the last survey. For the bytes, read it out on the Firmware station and compare with that file.`,
  };
}

interface SavedFile {
  readonly name: string;
  readonly content: string | Uint8Array;
}

const stem = (name: string): string => name.replace(/\.[a-z0-9]{2,4}$/i, '');

export const hexFile = ({name, reading}: InspectedFile): SavedFile => ({
  name: `${stem(name)}.hex`,
  content: writeIntelHex(reading.image),
});

/** Undefined where its parts lie too far apart for one file of raw bytes. */
export function rawFile({name, reading}: InspectedFile): SavedFile | undefined {
  const raw = writeRaw(reading.image);
  if (!raw.ok) return undefined;
  return {name: `${stem(name)} from ${addressText(raw.value.base)}.bin`, content: raw.value.bytes};
}
