/** Whether an image may be written to a flight controller, with the reasons a person can check. */
import {checkApplication, compareVersions, identityFaultText, type Identity} from '../../firmware/identity';
import {extent, flatten, type Image} from '../../firmware/image';
import {addressText} from '../../hex';
import {failure, success, type Result} from '../../problem';
import type {Receiver} from '../arming-fields';
import {controllerVariant, findControllerChip, type ControllerChip} from './chips';
import type {ControllerRelease} from '../../firmware/controller-releases';

interface ControllerFitReason {
  readonly check: 'chip' | 'flash' | 'identity' | 'board' | 'variant' | 'receiver' | 'escs' | 'standing' | 'same';
  readonly title: string;
  readonly verdict: 'holds' | 'care' | 'refused';
  readonly text: string;
}
export interface ControllerFit {
  readonly verdict: 'fits' | 'fits with care' | 'refused';
  readonly reasons: readonly ControllerFitReason[];
}

export interface ControllerFitQuestion {
  /** The board as it was found, or as a person named it for one whose firmware does not answer. */
  readonly board: {readonly board: string; readonly chip: string};
  /** Who named it, where nobody else told. */
  readonly claimedBy?: string | undefined;
  readonly image: Image;
  /** Undefined for a file of one's own, which nobody signed. */
  readonly release: Pick<ControllerRelease, 'standing' | 'receivers'> | undefined;
  /** Receiver that is planned or set. */
  readonly receiver: Receiver | undefined;
  /** Flight-controller firmware that the planned firmware of the ESCs asks for, "Plumb 2.2". */
  readonly escsNeed: string | undefined;
  /** What it runs now. */
  readonly current: {readonly firmware: string; readonly version: string} | undefined;
}

const reason =
  (verdict: ControllerFitReason['verdict']) =>
  (check: ControllerFitReason['check'], title: string, text: string): ControllerFitReason => ({
    check,
    title,
    verdict,
    text,
  });
const [holds, care, refuse] = [reason('holds'), reason('care'), reason('refused')];

/** The identity of an image for a flight controller's chip; says why it has none that checks. */
export function controllerIdentityOf(image: Image, chip: ControllerChip): Result<Identity, string> {
  const read = checkApplication(flatten(image, chip.application));
  return read.ok ? success(read.value) : failure(identityFaultText[read.problem]);
}

/** What a file of one's own calls itself where it is firmware of some flight controller; it may be for another board. */
export function ownControllerFirmware(image: Image, chipName: string): Identity | undefined {
  const chip = findControllerChip(chipName);
  const used = extent(image);
  if (!chip || !used || used.start !== chip.application.start) return undefined;
  const read = controllerIdentityOf(image, chip);
  return read.ok && read.value.variant === controllerVariant ? read.value : undefined;
}

/** Pure; the reasons are in the order a person would check them. */
export function judgeControllerFit(q: ControllerFitQuestion): ControllerFit {
  const chip = findControllerChip(q.board.chip);
  if (!chip) return conclude([refuse('chip', 'Chip', `Chip ${q.board.chip} is not known to Bidex.`)]);
  const flash = judgeFlash(chip, q.image);
  const identity = controllerIdentityOf(q.image, chip);
  if (!identity.ok) return conclude([flash, refuse('identity', 'Identity', identity.problem)]);
  return conclude([
    flash,
    judgeBoard(q, identity.value),
    ...(q.claimedBy
      ? [care('board', 'Board by claim', `${q.claimedBy} named this board; nothing in it confirms that.`)]
      : []),
    judgeVariant(identity.value),
    ...judgeReceiver(q),
    ...judgeEscs(q, identity.value),
    judgeStanding(q.release?.standing),
    ...judgeSame(q, identity.value),
  ]);
}

function conclude(reasons: ControllerFitReason[]): ControllerFit {
  const has = (verdict: ControllerFitReason['verdict']) => reasons.some((r) => r.verdict === verdict);
  return {verdict: has('refused') ? 'refused' : has('care') ? 'fits with care' : 'fits', reasons};
}

function judgeFlash({name, application, flashBytes}: ControllerChip, image: Image): ControllerFitReason {
  const title = 'Chip and flash';
  const used = extent(image);
  if (!used) return refuse('flash', title, 'The image holds no bytes.');
  if (used.start < application.start)
    return refuse('flash', title, `The image reaches into the loader at ${addressText(used.start)}.`);
  if (used.end > application.end)
    return refuse(
      'flash',
      title,
      `The image ends at ${addressText(used.end - 1)}; ${name} has ${flashBytes / 1024} KiB and its settings begin at ${addressText(application.end)}.`,
    );
  return holds(
    'flash',
    title,
    `${name}, ${flashBytes / 1024} KiB. The image uses ${Math.ceil((used.end - used.start) / 1024)} KiB, clear of loader and settings.`,
  );
}

function judgeBoard({board}: ControllerFitQuestion, identity: Identity): ControllerFitReason {
  const ours = `${board.board} / ${board.chip}`;
  const theirs = `${identity.board} / ${identity.chip}`;
  return ours === theirs
    ? holds('board', 'Target', `${theirs}, as the board says of itself.`)
    : refuse(
        'board',
        'Target',
        `The image is for ${theirs}, this board is ${ours}. It would not start, or drive the wrong pins.`,
      );
}

const judgeVariant = ({variant}: Identity): ControllerFitReason =>
  variant === controllerVariant
    ? holds('variant', 'Kind', 'Firmware of a flight controller.')
    : refuse('variant', 'Kind', `Made for ${variant}, not for a flight controller.`);

function judgeReceiver({release, receiver}: ControllerFitQuestion): ControllerFitReason[] {
  if (!release || !receiver) return [];
  const title = 'Receiver';
  return [
    release.receivers.includes(receiver.kind)
      ? holds('receiver', title, `A receiver of kind “${receiver.kind}” is built in.`)
      : refuse(
          'receiver',
          title,
          `The receiver is of kind “${receiver.kind}”, and this build has only ${release.receivers.join(', ')}: the craft would receive nothing.`,
        ),
  ];
}

function judgeEscs({escsNeed}: ControllerFitQuestion, identity: Identity): ControllerFitReason[] {
  if (!escsNeed) return [];
  const [family = '', version = ''] = escsNeed.split(' ');
  const hears = identity.family === family && compareVersions(identity.version, version) >= 0;
  return [
    hears
      ? holds('escs', 'Replies of the ESCs', `The planned ESC firmware requires ${escsNeed}.`)
      : care(
          'escs',
          'Replies of the ESCs',
          `The planned ESC firmware requires ${escsNeed}; this one does not receive replies.`,
        ),
  ];
}

function judgeStanding(standing: ControllerRelease['standing'] | undefined): ControllerFitReason {
  const title = 'Standing';
  if (standing === 'steady') return holds('standing', title, 'A steady release, signed.');
  if (standing === 'trial') return care('standing', title, 'A trial release: not for a craft that has to fly.');
  if (standing === 'withdrawn') return refuse('standing', title, 'It was withdrawn.');
  return care('standing', title, 'A file of your own: it is not signed.');
}

const judgeSame = ({current}: ControllerFitQuestion, {family, version}: Identity): ControllerFitReason[] =>
  current?.firmware === family && current.version === version
    ? [holds('same', 'Same version', 'It runs this version already: the safe choice.')]
    : [];
