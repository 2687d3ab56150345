/** The bench's end of one connection, from plugging in to unplugging. */
import {SlipDecoder} from '@core/link/slip';
import {KeptAnswers} from '../controller/kept-answers';

export class LinkEnd {
  readonly decoder = new SlipDecoder();
  readonly answers = new KeptAnswers();

  /** @param send gets what the bench says; @param onEnd that the cable went out. */
  constructor(
    readonly send: (bytes: Uint8Array) => void,
    readonly onEnd: () => void,
  ) {}
}
