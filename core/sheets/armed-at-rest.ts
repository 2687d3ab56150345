/** What armed motors do at zero throttle, for every station where a person sees them do it. */
import {zeroThrottleRemarks} from '../compare/setting-remarks';
import type {Remark} from '../remark';
import type {JudgedCraft} from './craft-question';

/** As the flight controller was found to hold it: a plan that is not written yet moves nothing. */
export const armedAtRest = ({record}: Pick<JudgedCraft, 'record'>): readonly Remark[] =>
  zeroThrottleRemarks(record.found?.controller?.settings?.values ?? {});
