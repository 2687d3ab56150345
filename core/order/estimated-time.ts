/** How long reading and writing take, ms: estimates of the drawn-up order. */
import {findChip, pageWriteMs} from '../firmware/chips';
import {isForeign, type FoundEsc} from '../bench/found';

export const settingsMs = (esc: FoundEsc) => pageWriteMs(findChip(esc.boot.chip)!) + 700;
/** An M32 is checksummed, a K8 read: 7 s. */
export const surveyMs = (esc: FoundEsc) => (findChip(esc.boot.chip)!.canChecksum ? 1_200 : 8_000);

/** Bytes a second on the single wire of an M32: 19,200 baud, ten bits a byte. */
const bytesPerS = 1_920;

/** Reading firmware of others before it is replaced, ms; none where the survey read it already. */
export function keepMs(esc: FoundEsc): number {
  const {start, end} = findChip(esc.boot.chip)!.application;
  return isForeign(esc) && !esc.application ? (1000 * (end - start)) / bytesPerS : 0;
}

/** The flight controller alone, ms. */
const controllerMs = 300;

/** ESCs behind a flight controller are read side by side: the slowest counts. */
export const longestSurveyMs = (escs: readonly FoundEsc[]): number => Math.max(controllerMs, ...escs.map(surveyMs));
