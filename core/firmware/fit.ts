/** Whether an image may be written to an ESC, with the reasons a person can check. */
import {findChip, type Chip} from './chips';
import {checkApplication, signatureOf, type Identity, type IdentityFault} from './identity';
import {extent, flatten, type Image} from './image';

export interface FitReason {
  readonly check: 'identity' | 'board' | 'flash' | 'variant' | 'replies' | 'standing';
  readonly title: string;
  readonly verdict: 'holds' | 'care' | 'refused';
  readonly text: string;
}

export interface Fit {
  readonly verdict: 'fits' | 'fits with care' | 'refused';
  readonly reasons: readonly FitReason[];
}

/** The hardware an image must fit: what was found, or what was last found for the same chip serial. */
export interface Hardware {
  readonly board: string;
  readonly chip: string;
  readonly deadTimeNs: number;
}

export interface FitQuestion {
  readonly hardware: Hardware;
  readonly image: Image;
  /** Whether the plan wants bidirectional DShot. */
  readonly wantsReplies: boolean;
  readonly standing?: 'steady' | 'trial' | 'withdrawn';
}

const identityFaults: Record<IdentityFault, string> = {
  'no-identity': 'The image has no identity block, so nothing says for which board it was made.',
  'damaged-identity': 'The identity block does not match its own checksum.',
  'damaged-body': 'The image does not match the checksum in its identity block.',
  'cut-off': 'The image is shorter than its identity block says.',
};

/** Answers a {@link FitQuestion}. Pure; the reasons are in the order a person would check them. */
export function judgeFit(question: FitQuestion): Fit {
  const {hardware, image} = question;
  const chip = findChip(hardware.chip);
  if (!chip) return conclude([refuse('flash', 'Chip and flash', `Chip ${hardware.chip} is not known to Bidex.`)]);
  const flash = judgeFlash(chip, image);
  const reading = checkApplication(flatten(image, chip.application));
  if (!reading.ok) return conclude([flash, refuse('identity', 'Identity', identityFaults[reading.problem])]);
  return conclude([
    flash,
    judgeBoard(hardware, reading.value),
    judgeVariant(reading.value),
    judgeReplies(reading.value, question.wantsReplies),
    judgeStanding(question.standing),
  ]);
}

function conclude(reasons: FitReason[]): Fit {
  const has = (verdict: FitReason['verdict']) => reasons.some((r) => r.verdict === verdict);
  return {verdict: has('refused') ? 'refused' : has('care') ? 'fits with care' : 'fits', reasons};
}

const refuse = (check: FitReason['check'], title: string, text: string): FitReason => ({
  check,
  title,
  verdict: 'refused',
  text,
});
const hold = (check: FitReason['check'], title: string, text: string): FitReason => ({
  check,
  title,
  verdict: 'holds',
  text,
});

const hex = (address: number) => '0x' + address.toString(16).toUpperCase().padStart(4, '0');

function judgeFlash(chip: Chip, image: Image): FitReason {
  const title = 'Chip and flash';
  const used = extent(image);
  if (!used) return refuse('flash', title, 'The image holds no bytes.');
  const touches = (range: {start: number; end: number}) =>
    image.segments.some((s) => s.start < range.end && s.start + s.bytes.length > range.start);
  if (touches(chip.bootloader))
    return refuse('flash', title, `The image reaches into the bootloader at ${hex(chip.bootloader.start)}.`);
  if (used.start < chip.application.start || used.end > chip.application.end)
    return refuse(
      'flash',
      title,
      `The image uses ${hex(used.start)} to ${hex(used.end - 1)}; the application of ${chip.name} ` +
        `lies from ${hex(chip.application.start)} to ${hex(chip.application.end - 1)}.`,
    );
  const pages = Math.ceil((used.end - chip.application.start) / chip.pageBytes);
  return hold(
    'flash',
    title,
    `${chip.name}, ${chip.flashBytes / 1024} KiB in pages of ${chip.pageBytes} B. ` +
      `The image uses ${pages} pages from ${hex(used.start)}, clear of the bootloader.`,
  );
}

function judgeBoard(hardware: Hardware, identity: Identity): FitReason {
  const ours = signatureOf(hardware);
  const theirs = signatureOf(identity);
  return ours === theirs
    ? hold('board', 'Board signature', `${theirs} = ${ours}`)
    : refuse('board', 'Board signature', `The image is for ${theirs}, this ESC is ${ours}. It would burn the bridge.`);
}

function judgeVariant(identity: Identity): FitReason {
  return identity.variant === 'multirotor'
    ? hold('variant', 'Variant', 'Made for multirotors.')
    : refuse(
        'variant',
        'Variant',
        `Made for ${identity.variant}: a governor holds its speed, it cannot steer a multirotor.`,
      );
}

function judgeReplies(identity: Identity, wanted: boolean): FitReason {
  if (identity.features.includes('replies')) return hold('replies', 'Replies', 'Answers bidirectional DShot.');
  return wanted
    ? {
        check: 'replies',
        title: 'Replies',
        verdict: 'care',
        text: 'Does not answer bidirectional DShot, which the plan wants. Motor-speed notches will not work.',
      }
    : hold('replies', 'Replies', 'Does not answer bidirectional DShot; the plan does not need it.');
}

function judgeStanding(standing: FitQuestion['standing']): FitReason {
  if (standing === 'withdrawn') return refuse('standing', 'Standing', 'Withdrawn by its makers.');
  if (standing === 'trial')
    return {
      check: 'standing',
      title: 'Standing',
      verdict: 'care',
      text: 'Trial build with a known fault, see its note.',
    };
  return hold('standing', 'Standing', standing === 'steady' ? 'Steady release.' : 'From a file.');
}
