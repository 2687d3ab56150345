/** ESCs whose firmware differs from that of their siblings, and nobody planned it so. */
import {firmwareText, type FoundEsc} from '../bench/found';
import {oddOnesOut} from '../bench/odd-one-out';
import type {Plan} from '../craft/craft';
import {firmwareName} from '../firmware/plan/firmware-plan';

export const oddFirmware = ({ownFirmware = []}: Pick<Plan, 'ownFirmware'>, escs: readonly FoundEsc[]): FoundEsc[] =>
  oddOnesOut(escs, firmwareText).filter(
    (esc) =>
      !ownFirmware.some(({motor, firmware}) => motor === esc.output && firmwareName(firmware) === firmwareText(esc)),
  );
