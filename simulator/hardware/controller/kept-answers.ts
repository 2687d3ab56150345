/** Answers an adapter keeps by number, so that a copy of a request is answered again and nothing is done twice. */

/** Answers kept: of requests that only read, and of those that change something, however late their copies come. */
const readingKept = 64;
const changingKept = 4096;

/** Requests that change nothing may be carried out again at any time. */
const reading =
  'hello power esc.read esc.checksum controller.identify controller.read controller.part burst.state burst.read attitude.read receiver.frames arming.state locks.read tasks.read mixer.read loader.identify loader.state loader.checksum settings.describe settings.read'.split(
    ' ',
  );
const isReading = (operation: string): boolean => reading.includes(operation);

export class KeptAnswers {
  /** By sequence number; null while under way. */
  private readonly answers = {
    reading: new Map<number, Uint8Array | null>(),
    changing: new Map<number, Uint8Array | null>(),
  };
  /** Numbers of changes whose answers were forgotten. */
  private readonly forgotten = new Set<number>();

  /** The answer to a request that is known, null while it is under way; undefined for one that is new. */
  find(operation: string, sequence: number): Uint8Array | null | undefined {
    return this.of(operation).get(sequence);
  }

  /**
   * Notes a new request as under way; returns whether it was carried out before and forgotten since.
   * @param isForgetful an adapter that keeps few answers of changes too.
   */
  begin(operation: string, sequence: number, isForgetful: boolean): boolean {
    const wasForgotten = this.forgotten.has(sequence);
    const answers = this.of(operation);
    answers.set(sequence, null);
    const kept = isReading(operation) || isForgetful ? readingKept : changingKept;
    while (answers.size > kept) {
      const [oldest] = answers.keys();
      answers.delete(oldest!);
      if (!isReading(operation)) this.forgotten.add(oldest!);
    }
    return wasForgotten;
  }

  /** Keeps the answer, where the request is still remembered. */
  keep(operation: string, sequence: number, frame: Uint8Array): void {
    const answers = this.of(operation);
    if (answers.has(sequence)) answers.set(sequence, frame);
  }

  private of(operation: string): Map<number, Uint8Array | null> {
    return this.answers[isReading(operation) ? 'reading' : 'changing'];
  }
}
