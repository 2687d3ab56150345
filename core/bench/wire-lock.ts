/** One lock for the wires to the ESCs: whatever uses them takes it, says for what, and gives it back. */
import {ProblemError} from '../problem';

/** What the wires may be taken for. */
export type WirePurpose = 'order' | 'survey' | 'read-out' | 'hold' | 'measurement';

const who: Readonly<Record<WirePurpose, string>> = {
  order: 'A work order',
  survey: 'A survey',
  'read-out': 'A read-out of firmware',
  hold: 'A hold that turns a motor',
  measurement: 'A measurement of replies',
};

export class WireLock {
  private taken: {readonly purpose: WirePurpose} | undefined;

  /** @param onChange told who has the wires now, and of nobody. */
  constructor(private readonly onChange: (purpose: WirePurpose | undefined) => void = () => undefined) {}

  get purpose(): WirePurpose | undefined {
    return this.taken?.purpose;
  }

  /** Takes the wires; the returned function gives them back and may be called twice. Throws "wires-taken" when they are. */
  take(purpose: WirePurpose): () => void {
    if (this.taken)
      throw new ProblemError({
        code: 'wires-taken',
        place: 'bench',
        meaning: `${who[this.taken.purpose]} is using the connection. Only one operation can run at a time.`,
        remedy: 'Let it end, or stop it first.',
      });
    const own = {purpose};
    this.taken = own;
    this.onChange(purpose);
    return () => {
      if (this.taken !== own) return;
      this.taken = undefined;
      this.onChange(undefined);
    };
  }
}
