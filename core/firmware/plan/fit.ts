/** Whether an image may be written to an ESC, with the reasons a person can check. */
import {addressText} from '../../hex';
import type {Protocol} from '../../dshot/protocol';
import {protocolName, protocolRate} from '../../dshot/protocol';
import {carryOver} from '../../settings/carry-over';
import {describeCarryOver} from '../../settings/carry-over-text';
import {definitionOf, isLayoutRevision} from '../../settings/definitions';
import {variantNamed, type Variant} from '../../settings/variant';
import type {DecodedSettings} from '../../settings/page';
import {dayText} from '../../words/moment';
import {findChip, type Chip} from '../chips';
import type {FileClaim} from './firmware-plan';
import type {ReadFrom} from './read-from';
import {compareVersions, identityFaultText, isWithin, signatureOf, type Identity, type Feature} from '../identity';
import {extent, type Image} from '../image';
import {contentOf} from '../formats/image-content';
import {regionOf, type ImagePart} from './page-plan';

export type FitCheck =
  | 'back'
  | 'identity'
  | 'file'
  | 'build'
  | 'board'
  | 'claim'
  | 'flash'
  | 'variant'
  | 'base'
  | 'bootloader'
  | 'settings'
  | 'replies'
  | 'protocol'
  | 'pwm'
  | 'controller'
  | 'standing'
  | 'same';

export interface FitReason {
  readonly check: FitCheck;
  readonly title: string;
  readonly verdict: 'holds' | 'care' | 'refused';
  readonly text: string;
}

export interface Fit {
  readonly verdict: 'fits' | 'fits with care' | 'refused';
  readonly reasons: readonly FitReason[];
}

/** The hardware an image must fit: what was found, what was last found for the same chip serial, or what a person claimed. */
export interface Hardware {
  readonly board: string;
  readonly chip: string;
  readonly deadTimeNs: number;
}

/** What a person said about an ESC that does not report its board. */
export interface HardwareClaim extends Hardware {
  readonly serial: string;
  /** Who said it. */
  readonly by: string;
  /** Epoch ms. */
  readonly at: number;
}

export type Standing = 'steady' | 'trial' | 'withdrawn';

/** What the plan asks of the firmware. */
interface FitWishes {
  readonly replies: boolean;
  readonly protocol: Protocol;
  /** Whether a reply module is planned on top, which then gives the replies. */
  readonly module: boolean;
  /** What kind of craft the firmware must be made for. */
  readonly variant: Variant;
  /** PWM build the plan names, kHz. */
  readonly pwmKhz?: number | undefined;
}

export interface FitQuestion {
  readonly hardware: Hardware;
  readonly image: Image;
  readonly part?: ImagePart;
  readonly wishes: FitWishes;
  /** Undefined for a file of one's own, which nobody signed. */
  readonly standing: Standing | undefined;
  readonly claim?: HardwareClaim | undefined;
  readonly bootRevision?: number | undefined;
  readonly settings?: DecodedSettings | undefined;
  /** What the ESC runs now. */
  readonly current?: Identity | undefined;
  /** What a person said of the planned file: it goes where it does not say itself that it belongs. */
  readonly fileClaim?: FileClaim | undefined;
  /** Set for an image that was read out of ESCs: those, and the one it is to go to. */
  readonly back?: {readonly from: readonly ReadFrom[]; readonly to: string} | undefined;
  /** What will lie below a reply module when it is written. */
  readonly base?: Identity | undefined;
  /** Flight-controller firmware that replies need, and what was found. */
  readonly controller?: {readonly needs: string; readonly found: string | undefined} | undefined;
}

/** The reason that decides a fit that does not simply hold: the first refusal, else the first care. */
export const tellingReason = ({reasons}: Fit): FitReason | undefined =>
  reasons.find((r) => r.verdict === 'refused') ?? reasons.find((r) => r.verdict === 'care');

/** Answers a {@link FitQuestion}. Pure; the reasons are in the order a person would check them. */
export function judgeFit(question: FitQuestion): Fit {
  const {hardware, image, part = 'base', wishes} = question;
  const chip = findChip(hardware.chip);
  if (!chip) return conclude([refuse('flash', 'Chip and flash', `Chip ${hardware.chip} is not known to Bidex.`)]);
  if (part === 'module' && !chip.module)
    return conclude([refuse('flash', 'Chip and flash', `${chip.name} has no region for a reply module.`)]);
  const flash = judgeFlash(chip, image, part, wishes.module);
  const {back} = question;
  if (back && !contentOf(image, chip, regionOf(chip, part)).identity.ok) return conclude([flash, judgeBack(back)]);
  const reading = contentOf(image, chip, regionOf(chip, part)).identity;
  const {fileClaim} = question;
  if (!reading.ok)
    return conclude([
      flash,
      fileClaim ? judgeFileClaim(fileClaim) : refuse('identity', 'Identity', identityFaultText[reading.problem]),
    ]);
  const identity = reading.value;
  return conclude([
    flash,
    ...judgeBoard(hardware, identity, fileClaim),
    ...judgeClaim(question.claim),
    judgeVariant(identity, part, wishes.variant),
    ...(part === 'module' ? [judgeBase(identity, question.base)] : []),
    ...judgeBootloader(identity, question.bootRevision),
    ...(part === 'base' ? judgeSettings(identity, question.settings) : []),
    judgeReplies(identity, wishes, question.controller),
    ...judgeProtocol(chip, wishes),
    ...judgePwm(identity, wishes.pwmKhz),
    ...judgeBuild(identity),
    judgeStanding(question.standing),
    ...judgeSame(identity, question.current),
  ]);
}

function conclude(reasons: FitReason[]): Fit {
  const has = (verdict: FitReason['verdict']) => reasons.some((r) => r.verdict === verdict);
  return {verdict: has('refused') ? 'refused' : has('care') ? 'fits with care' : 'fits', reasons};
}

const reason =
  (verdict: FitReason['verdict']) =>
  (check: FitCheck, title: string, text: string): FitReason => ({check, title, verdict, text});
const refuse = reason('refused');
const hold = reason('holds');
const care = reason('care');

function judgeFlash(chip: Chip, image: Image, part: ImagePart, module: boolean): FitReason {
  const title = 'Chip and flash';
  const used = extent(image);
  if (!used) return refuse('flash', title, 'The image holds no bytes.');
  const region = regionOf(chip, part);
  const touches = (range: {start: number; end: number}) =>
    image.segments.some((s) => s.start < range.end && s.start + s.bytes.length > range.start);
  if (touches(chip.bootloader))
    return refuse('flash', title, `The image reaches into the bootloader at ${addressText(chip.bootloader.start)}.`);
  if (used.start < region.start || used.end > region.end)
    return refuse(
      'flash',
      title,
      `The image uses ${addressText(used.start)} to ${addressText(used.end - 1)}; the ${part === 'base' ? 'application' : 'reply module'} ` +
        `of ${chip.name} lies from ${addressText(region.start)} to ${addressText(region.end - 1)}.`,
    );
  if (part === 'base' && module && chip.module && used.end > chip.module.start)
    return refuse(
      'flash',
      title,
      `The image reaches into the reply module's region at ${addressText(chip.module.start)}.`,
    );
  const pages = Math.ceil((used.end - region.start) / chip.pageBytes);
  return hold(
    'flash',
    title,
    `${chip.name}, ${chip.flashBytes / 1024} KiB in pages of ${chip.pageBytes} B. ` +
      `The image uses ${pages} pages from ${addressText(used.start)}, clear of the bootloader.`,
  );
}

/** What was read out of an ESC fits that ESC, whatever it is. */
function judgeBack({from, to}: NonNullable<FitQuestion['back']>): FitReason {
  const title = 'Way back';
  const own = from.find(({serial}) => serial === to);
  return own
    ? hold(
        'back',
        title,
        `Read out of this very ESC, ${to}, on ${dayText(own.at)}. It goes back byte for byte, with its settings.`,
      )
    : refuse(
        'back',
        title,
        `Read out of ${from.map(({serial}) => serial).join(' and ')}; this is ${to}. It may go back to the ESC it came from alone.`,
      );
}

/** Boards of one chip and one dead time may be built alike: a person may say so. Another dead time burns, whoever says what. */
export const mayBeAlike = (a: Hardware, b: Hardware): boolean => a.chip === b.chip && a.deadTimeNs === b.deadTimeNs;

function judgeBoard(hardware: Hardware, identity: Identity, claim: FileClaim | undefined): FitReason[] {
  const title = 'Board signature';
  const ours = signatureOf(hardware);
  const theirs = signatureOf(identity);
  if (ours === theirs) return [hold('board', title, `${theirs} = ${ours}`)];
  return claim && mayBeAlike(hardware, identity)
    ? [
        care('board', title, `The image is for ${theirs}, this ESC is ${ours}, of the same chip and dead time.`),
        judgeFileClaim(claim),
      ]
    : [refuse('board', title, `The image is for ${theirs}, this ESC is ${ours}. It would burn the bridge.`)];
}

const judgeFileClaim = ({by, why, at}: FileClaim): FitReason =>
  care(
    'file',
    'File by claim',
    `${by} said on ${dayText(at)} that it belongs here: ${why.replace(/[.\s]+$/, '')}. Nothing in the file confirms it: a wrong image burns.`,
  );

/** A build that helps whoever writes firmware stops where a finished one goes on. */
export const debugFeature: Feature = 'debug';
const judgeBuild = ({features}: Identity): FitReason[] =>
  features.includes(debugFeature)
    ? [
        care(
          'build',
          'Build',
          'A debug build, for whoever works on the firmware: it may stop in flight where a finished build goes on.',
        ),
      ]
    : [];

function judgeClaim(claim: HardwareClaim | undefined): FitReason[] {
  if (!claim) return [];
  const day = new Date(claim.at).toISOString().slice(0, 10);
  return [
    care(
      'claim',
      'Board by claim',
      `${claim.by} said on ${day} that this is a ${claim.board}. Nothing in the ESC confirms it: a wrong board burns.`,
    ),
  ];
}

function judgeVariant({variant}: Identity, part: ImagePart, wanted: Variant): FitReason {
  if (part === 'module')
    return variant === 'reply-module'
      ? hold('variant', 'Variant', 'A reply module.')
      : refuse('variant', 'Variant', `A base firmware (${variant}), not a reply module.`);
  if (variant === wanted) return hold('variant', 'Variant', `Made for ${madeFor[wanted]}.`);
  if (variant === 'reply-module')
    return refuse('variant', 'Variant', 'A reply module is not a firmware: it goes on top of one.');
  if (wanted === 'multirotor')
    return refuse(
      'variant',
      'Variant',
      `Made for ${variant}: a governor holds its speed, it cannot steer a multirotor.`,
    );
  return refuse('variant', 'Variant', `Made for ${variant}, and this motor turns ${madeFor[wanted]} (${wanted}).`);
}

const madeFor: Readonly<Record<Variant, string>> = {
  multirotor: 'multirotors',
  'heli-main': 'the main rotor of a helicopter',
  'heli-tail': 'the tail rotor of a helicopter',
  'reply-module': 'a base firmware',
};

function judgeBase(module: Identity, base: Identity | undefined): FitReason {
  const title = 'Base firmware';
  const {family, base: bounds} = module;
  if (!bounds) return refuse('base', title, 'The module does not say which base versions it works with.');
  const wanted = `${family} ${bounds.lowest} to ${bounds.highest}`;
  if (!base) return refuse('base', title, `The module needs ${wanted} below it; base firmware is missing.`);
  return base.family === family && isWithin(base.version, bounds)
    ? hold('base', title, `${base.family} ${base.version} lies within ${wanted}.`)
    : refuse('base', title, `The module needs ${wanted}; the base is ${base.family} ${base.version}.`);
}

function judgeBootloader({bootRevision: needs, version}: Identity, found: number | undefined): FitReason[] {
  if (found === undefined) return [];
  const title = 'Bootloader';
  return [
    found >= needs
      ? hold('bootloader', title, `Revision ${found}, ${version} requires ${needs} or newer.`)
      : refuse(
          'bootloader',
          title,
          `This ESC has bootloader revision ${found}; ${version} requires ${needs} or newer. It could not start it.`,
        ),
  ];
}

function judgeSettings({layoutRevision, variant}: Identity, settings: DecodedSettings | undefined): FitReason[] {
  const title = 'Settings';
  if (!isLayoutRevision(layoutRevision))
    return [
      refuse(
        'settings',
        title,
        `Its settings layout ${layoutRevision} is not known to Bidex: none could be carried over.`,
      ),
    ];
  if (!settings)
    return [
      care('settings', title, 'Settings are not readable; the plan and defaults are written, calibration is lost.'),
    ];
  const carried = carryOver(settings, layoutRevision, variantNamed(variant));
  const text = describeCarryOver(settings.layout, layoutRevision, carried);
  return [
    // What stood at its default is no loss.
    carried.dropped.some(({key, last}) => last !== definitionOf(key).default) || carried.outOfRange.length
      ? care('settings', title, text)
      : hold('settings', title, text),
  ];
}

function judgeReplies(identity: Identity, wishes: FitWishes, controller: FitQuestion['controller']): FitReason {
  const title = 'Replies';
  if (!identity.features.includes('replies')) {
    if (wishes.module) return hold('replies', title, 'Its replies come from the reply module planned on top.');
    return wishes.replies
      ? care(
          'replies',
          title,
          'Does not answer bidirectional DShot, which the plan wants. Motor-speed notches will not work.',
        )
      : hold('replies', title, 'Does not answer bidirectional DShot; the plan does not need it.');
  }
  const [family, version] = controller ? controller.needs.split(' ') : [];
  if (wishes.replies && controller?.found && family && version) {
    const [foundFamily = '', foundVersion = ''] = controller.found.split(' ');
    if (foundFamily !== family || compareVersions(foundVersion, version) < 0)
      return care(
        'replies',
        title,
        `Answers bidirectional DShot, and requires a flight controller with ${controller.needs}; it runs ${controller.found}, ` +
          'which does not listen. Update the flight controller as well.',
      );
  }
  return hold('replies', title, 'Answers bidirectional DShot.');
}

function judgeProtocol(chip: Chip, {protocol, replies}: FitWishes): FitReason[] {
  return replies && protocolRate[protocol] > chip.fastestReplyDshot
    ? [
        care(
          'protocol',
          'Protocol',
          `The plan's ${protocolName[protocol]} with replies is faster than ${chip.name} receives: replies would be lost. ` +
            `Plan DShot${chip.fastestReplyDshot}.`,
        ),
      ]
    : [];
}

function judgePwm({pwmKhz}: Identity, wanted: number | undefined): FitReason[] {
  if (pwmKhz === undefined || wanted === undefined) return [];
  return [
    pwmKhz === wanted
      ? hold('pwm', 'PWM build', `Built for ${pwmKhz} kHz, as planned.`)
      : care('pwm', 'PWM build', `Built for ${pwmKhz} kHz; the plan says ${wanted} kHz.`),
  ];
}

function judgeStanding(standing: Standing | undefined): FitReason {
  const title = 'Standing';
  if (standing === 'withdrawn') return refuse('standing', title, 'Withdrawn by its makers.');
  if (standing === 'trial') return care('standing', title, 'Trial build with a known fault, see its note.');
  if (standing === 'steady') return hold('standing', title, 'Steady release.');
  return care('standing', title, 'A file of your own: it is not signed.');
}

function judgeSame(image: Identity, current: Identity | undefined): FitReason[] {
  const same =
    current &&
    current.family === image.family &&
    current.version === image.version &&
    current.pwmKhz === image.pwmKhz &&
    current.bodyCrc32 === image.bodyCrc32;
  return same
    ? [hold('same', 'Already there', 'The same firmware in the same version: writing it again is the safe choice.')]
    : [];
}
