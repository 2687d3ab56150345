/** What Firmware says of the flight controller itself: what runs, which image fits and why, what becomes of its configuration. */
import {carryConfig} from '../../controller/text/carry-config';
import type {CarriedLine} from '../../controller/text/carry-text';
import type {ControllerFit} from '../../controller/firmware/fit';
import {
  controllerFirmwareName,
  type ControllerFirmware,
  type ControllerRelease,
} from '../../firmware/controller-releases';
import {
  controllerBoardOf,
  controllerFit,
  isControllerBehind,
  isUnnamedBoard,
  type ControllerImage,
} from '../../order/controller-work';
import type {CraftQuestion} from '../craft-question';

/** An image for the flight controller's board, with what it calls itself. */
export interface NamedImage {
  readonly image: ControllerImage;
  readonly family: string;
  readonly version: string;
}

export interface ControllerBoard {
  readonly board: string;
  readonly chip: string;
}

export interface ControllerOffer {
  readonly id: string;
  readonly name: string;
  readonly version: string;
  /** Undefined for a file of one's own. */
  readonly release: ControllerRelease | undefined;
  readonly fit: ControllerFit;
  readonly isChosen: boolean;
  readonly note: string;
  /** What is planned when it is chosen. */
  readonly firmware: ControllerFirmware;
}

interface ControllerFirmwareSheet {
  /** Chip of a flight controller in its loader that a person has to name. */
  readonly unnamedChip: string | undefined;
  readonly board: ControllerBoard | undefined;
  /** Undefined while it is in its loader. */
  readonly runs: {readonly clockMhz: number; readonly name: string} | undefined;
  readonly isBehind: boolean;
  /** ESCs cannot be reached through what it runs. */
  readonly isBlocked: boolean;
  readonly offered: readonly ControllerOffer[];
  readonly refused: readonly {
    readonly id: string;
    readonly name: string;
    readonly sign: string;
    readonly why: string;
  }[];
  readonly chosen: ControllerOffer | undefined;
  /** Of every line that does not simply stay. */
  readonly fates: readonly CarriedLine[];
}

/** @param imagesFor what the shelf has for a board, releases first. */
export function controllerFirmwareSheet(
  q: CraftQuestion,
  imagesFor: (board: ControllerBoard) => readonly NamedImage[],
): ControllerFirmwareSheet {
  const {craft, record} = q;
  const {found} = record;
  const board = found && controllerBoardOf(found, craft);
  const offers = board ? imagesFor(board).map((image) => offerOf(q, image)) : [];
  const identity = found?.controller?.identity;
  const isBehind = !!found && isControllerBehind(craft, found);
  return {
    ...{board, isBehind},
    unnamedChip: found && isUnnamedBoard(found) ? found.loader?.chip : undefined,
    runs: identity && {clockMhz: identity.clockMhz, name: `${identity.firmware} ${identity.version}`},
    isBlocked: !!found?.silent.some((s) => s.problem.code === 'no-pass-through'),
    offered: offers.filter((o) => o.fit.verdict !== 'refused'),
    refused: offers.filter((o) => o.fit.verdict === 'refused').map(refusedLine),
    chosen: offers.find((o) => o.isChosen),
    fates: isBehind ? fatesOf(q) : [],
  };
}

function offerOf({craft, record}: CraftQuestion, {image, family, version}: NamedImage): ControllerOffer {
  const fit = controllerFit({craft, found: record.found!}, image);
  const {release} = image;
  const planned = craft.plan.controllerFirmware;
  const firmware: ControllerFirmware = {family, version, ...(!release && {file: image.sha256})};
  return {
    ...{id: image.sha256, name: controllerFirmwareName(firmware), version, release, fit, firmware},
    isChosen: planned?.family === family && planned.version === version && planned.file === firmware.file,
    note: fit.reasons.find((r) => r.verdict === 'refused')?.text ?? release?.note ?? image.name,
  };
}

const refusedLine = ({id, version, release, note}: ControllerOffer): ControllerFirmwareSheet['refused'][number] => ({
  ...{id, name: release ? version : `${version}, own file`},
  ...(release?.standing === 'withdrawn' ? {sign: 'withdrawn', why: release.note} : {sign: 'refused', why: note}),
});

function fatesOf({craft, record}: CraftQuestion): readonly CarriedLine[] {
  const [from, to] = [record.found?.controller, craft.plan.controllerFirmware];
  if (!from || !to) return [];
  return carryConfig(from.config, from.identity.version, to.version).report.filter((l) => l.fate !== 'kept');
}
