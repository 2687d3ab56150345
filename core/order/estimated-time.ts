/** How long reading and writing take, ms: estimates of the drawn-up order. */
import {findChip, pageWriteMs} from '../firmware/chips';
import type {FoundEsc} from '../bench/found';

export const settingsMs = (esc: FoundEsc) => pageWriteMs(findChip(esc.boot.chip)!) + 700;
/** An M32 is checksummed, a K8 read: 7 s. */
export const surveyMs = (esc: FoundEsc) => (findChip(esc.boot.chip)!.canChecksum ? 1_200 : 8_000);

/** The flight controller alone, ms. */
const controllerMs = 300;

/** ESCs behind a flight controller are read side by side: the slowest counts. */
export const longestSurveyMs = (escs: readonly FoundEsc[]): number => Math.max(controllerMs, ...escs.map(surveyMs));
