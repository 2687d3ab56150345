/**
 * A failure caused by the outside world, as a value.
 * `code` is for programs, the three texts are for the person at the bench.
 */
export interface Problem {
  readonly code: string;
  /** Where it happened: a line, a motor, an address. */
  readonly place: string;
  /** What happened and what it means. */
  readonly meaning: string;
  /** What to do about it. */
  readonly remedy: string;
}

export type Result<T, P = Problem> = {readonly ok: true; readonly value: T} | {readonly ok: false; readonly problem: P};

export const success = <T>(value: T): {ok: true; value: T} => ({ok: true, value});
export const failure = <P>(problem: P): {ok: false; problem: P} => ({ok: false, problem});

/** Carries a {@link Problem} through code that has to throw, such as a promise that rejects. */
export class ProblemError extends Error {
  constructor(readonly problem: Problem) {
    super(`${problem.place}: ${problem.meaning}`);
    this.name = 'ProblemError';
  }
}
