/** What an order does to the flight controller's own firmware. */
import {carryConfig, type CarriedConfig} from '../controller/text/carry-config';
import {judgeControllerFit, type ControllerFit} from '../controller/firmware/fit';
import {
  controllerFirmwareName,
  runningName,
  type ControllerFirmware,
  type ControllerRelease,
} from '../firmware/controller-releases';
import {planOver} from '../controller/plan';
import type {Craft} from '../craft/craft';
import {extent, type Image} from '../firmware/image';
import type {ImageRef} from '../firmware/plan/planned-image';
import {failure, success, type Problem, type Result} from '../problem';
import type {Found} from '../bench/found';
import type {StepKind} from './steps';

/** An image for a flight controller at hand: from the shelf, or a file of one's own, which has no release. */
export interface ControllerImage extends ImageRef {
  readonly image: Image;
  readonly release: ControllerRelease | undefined;
}

/** What images for flight controllers can be taken from. */
interface ControllerSupply {
  readonly releases: readonly ControllerRelease[];
  readonly files: readonly ImageRef[];
  readonly imageIn: (sha256: string) => Image | undefined;
}

/** The image that a plan means on a board: the file it names, else the release of that name; undefined where not at hand. */
export function plannedControllerImage(
  {releases, files, imageIn}: ControllerSupply,
  plan: ControllerFirmware | undefined,
  board: string,
): ControllerImage | undefined {
  if (!plan) return undefined;
  const release = releases.find((r) => r.board === board && r.family === plan.family && r.version === plan.version);
  const file = plan.file === undefined ? undefined : files.find((f) => f.sha256 === plan.file);
  const ref =
    plan.file === undefined ? release && {sha256: release.sha256, name: controllerFirmwareName(release)} : file;
  const image = ref && imageIn(ref.sha256);
  return image && {...ref, image, release: file ? undefined : release};
}

export interface ControllerWork {
  readonly image: ImageRef;
  readonly board: string;
  readonly chip: string;
  /** A person named the board; nothing in it tells. */
  readonly isClaimed: boolean;
  /** What runs now; undefined where only the loader does. */
  readonly from: string | undefined;
  readonly to: ControllerFirmware;
  readonly bytes: number;
  /** ESCs are reached only through what is written. */
  readonly isFirst: boolean;
  /** What becomes of its configuration; undefined where none was read. */
  readonly carried: CarriedConfig | undefined;
}

interface ControllerQuestion {
  readonly craft: Craft;
  readonly found: Found;
  readonly leaveSteps?: readonly StepKind[] | undefined;
  readonly controllerImage?: ControllerImage | undefined;
}

interface FoundBoard {
  readonly board: string;
  readonly chip: string;
  /** Who named it, where nothing in it tells. */
  readonly claimedBy?: string;
}

/**
 * The board that firmware would be written to: as its loader says, else as its firmware does, else as a person named it.
 * Undefined where nothing was found, and where what was found tells no board and nobody named it.
 */
export function controllerBoardOf(
  {controller, loader}: Found,
  {controllerClaim}: Pick<Craft, 'controllerClaim'>,
): FoundBoard | undefined {
  const told = loader ?? controller?.identity;
  if (!told || told.board !== '') return told;
  return controllerClaim && {board: controllerClaim.board, chip: told.chip, claimedBy: controllerClaim.by};
}

/** Whether a loader is there that does not report its board. */
export const isUnnamedBoard = ({loader}: Found): boolean => loader?.board === '';

/** Whether the flight controller that is plugged in does not run what is planned. */
export function isControllerBehind({plan}: Pick<Craft, 'plan'>, found: Found): boolean {
  const to = plan.controllerFirmware;
  if (!to || (found.plugged ?? found.road) !== 'controller') return false;
  const {identity} = found.controller ?? {};
  return identity ? runningName(identity) !== controllerFirmwareName(to) : found.loader !== undefined;
}

/** Nothing where it runs what is planned; a problem where it cannot be brought there. */
export function controllerWork(q: ControllerQuestion): Result<ControllerWork | undefined> {
  const {craft, found, controllerImage} = q;
  const to = craft.plan.controllerFirmware;
  const board = controllerBoardOf(found, craft);
  if (to && !board && isUnnamedBoard(found) && !q.leaveSteps?.includes('write-controller'))
    return refuse('unknown-board', 'flight controller', 'Its loader does not report which board it is.', nameIt);
  if (!to || !board || !isControllerBehind(craft, found) || q.leaveSteps?.includes('write-controller'))
    return success(undefined);
  if (found.controller?.unread) return unreadSettings;
  if (!controllerImage)
    return refuse('no-image', 'shelf', `The image of ${controllerFirmwareName(to)} for ${board.board} is not at hand.`);
  const wrong = controllerFit(q, controllerImage).reasons.find((r) => r.verdict === 'refused');
  if (wrong) return refuse('no-fit', 'flight controller', wrong.text);
  const used = extent(controllerImage.image)!;
  const {name, sha256} = controllerImage;
  const {identity, config} = found.controller ?? {};
  return success({
    ...{image: {name, sha256}, board: board.board, chip: board.chip, to},
    isClaimed: board.claimedBy !== undefined,
    from: identity && runningName(identity),
    bytes: used.end - used.start,
    isFirst: !found.escs.length,
    carried: identity && config && carryConfig(config, identity.version, to.version),
  });
}

/** An image held against the flight controller of a craft. Found must tell its board. */
export function controllerFit({craft, found}: ControllerQuestion, {image, release}: ControllerImage): ControllerFit {
  const {identity, config} = found.controller ?? {};
  const board = controllerBoardOf(found, craft)!;
  return judgeControllerFit({
    ...{board, claimedBy: board.claimedBy, image, release, current: identity},
    receiver: planOver(craft.plan.controller, config).receiver,
    escsNeed: craft.plan.controller.replies ? repliesNeed : undefined,
  });
}

/** Flight-controller firmware that hears replies. */
const repliesNeed = 'Plumb 2.2';

/** New firmware forgets everything that was set: what was not read could not be put back. */
const unreadSettings = failure({
  code: 'settings-unread',
  place: 'flight controller',
  meaning: 'Not everything that it holds was read: long transfers get lost on the way.',
  remedy: 'Plug the cable straight into the computer, without a hub, and survey again.',
});
const chooseOther = 'Choose other firmware for the flight controller on the Firmware station.';
const nameIt = 'Read the marking on the board and select it on the Firmware station.';
const refuse = (code: string, place: string, meaning: string, remedy = chooseOther): Result<never, Problem> =>
  failure({code, place, meaning, remedy});
