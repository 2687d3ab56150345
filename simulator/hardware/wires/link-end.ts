/** The bench's end of one connection, from plugging in to unplugging. */
import {SlipDecoder} from '@core/link/slip';
import {KeptAnswers} from '../controller/kept-answers';

export class LinkEnd {
  readonly decoder = new SlipDecoder();
  answers = new KeptAnswers();
  /** Counts clients: what was asked by one of before is not answered to the next. */
  client = 0;
  private name: string | undefined;

  /** @param send gets what the bench says; @param onEnd that the cable went out. */
  constructor(
    readonly send: (bytes: Uint8Array) => void,
    readonly onEnd: () => void,
  ) {}

  /** A client greets. Where the cable stays in, its name tells that another one has begun; returns whether it has. */
  greetedBy(name: unknown): boolean {
    if (typeof name !== 'string' || name === this.name) return false;
    this.name = name;
    this.answers = new KeptAnswers();
    this.client++;
    return true;
  }
}
