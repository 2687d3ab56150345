/** What a command of the headless door is, what it answers, and how it reads its files. */
import {createReadStream, readFileSync, statSync} from 'node:fs';
import {basename} from 'node:path';
import {createGunzip} from 'node:zlib';
import type {Problem} from '@core/problem';

export interface Answer {
  readonly ok: boolean;
  readonly value: unknown;
}

export interface Outcome {
  /** Printed as JSON; a text as it is. */
  readonly output: unknown;
  readonly exitCode: number;
}

interface Call {
  /** Empty where the command works on no file. */
  readonly file: string;
  /** With their dashes; a flag has an empty value. */
  readonly options: ReadonlyMap<string, string>;
}
export type Run = (call: Call) => Outcome | Promise<Outcome>;

export const fail = (code: string, message: string): Answer => ({ok: false, value: {error: {code, message}}});
export const failed = ({code, place, meaning, remedy}: Problem): Answer => fail(code, `${place}: ${meaning} ${remedy}`);
export const outcome = ({ok, value}: Answer): Outcome => ({output: value, exitCode: ok ? 0 : 1});

/** The options do not say what the command needs: its usage is told. */
export class UsageError extends Error {}
/** A file that cannot be read. */
export class FileError extends Error {}

/** The pole count that an option says; undefined where it is none that a motor has. */
export function polesOf(text: string | undefined): number | undefined {
  const poles = Number(text);
  return Number.isInteger(poles) && poles >= 2 && poles <= 60 && poles % 2 === 0 ? poles : undefined;
}

export const wholeNumber = (options: Call['options'], name: string): number => Number(options.get(name) ?? NaN);

/** `--runs` and `--seed`. @throws UsageError */
export function runsAndSeed(options: Call['options']): {readonly runs: number; readonly seed: number} {
  const [runs, seed] = [wholeNumber(options, '--runs'), wholeNumber(options, '--seed')];
  if (!Number.isInteger(runs) || runs < 1 || !Number.isInteger(seed)) throw new UsageError();
  return {runs, seed};
}

export const readFile = (file: string): Buffer => orFileError(file, () => readFileSync(file));
export const readText = (file: string): string => readFile(file).toString('utf8');

export interface LogFile {
  readonly sizeBytes: number;
  readonly pieces: AsyncIterable<Uint8Array>;
}

export const logFile = (file: string): LogFile => ({
  sizeBytes: orFileError(file, () => statSync(file).size),
  pieces: piecesOf(file),
});

/** A file as a stream, unpacked on the way where it is packed (gzip). */
async function* piecesOf(file: string): AsyncGenerator<Uint8Array> {
  const packed = createReadStream(file, {highWaterMark: 1 << 20});
  try {
    yield* (file.endsWith('.gz') ? packed.pipe(createGunzip()) : packed) as AsyncIterable<Uint8Array>;
  } catch (error) {
    throw unreadable(file, error);
  }
}

function orFileError<T>(file: string, read: () => T): T {
  try {
    return read();
  } catch (error) {
    throw unreadable(file, error);
  }
}

const unreadable = (file: string, cause: unknown) =>
  new FileError(`${basename(file)} cannot be read: ${(cause as Error).message}`, {cause});
