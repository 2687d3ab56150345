/** What a proof was taken from, key by key, and what has become of it. */

/** One value; of every motor where there is one each, in the order of outputs, null where nobody has read it. */
type GroundValue = string | number | boolean | readonly (string | number | boolean | null)[];

/** One thing a proof was taken from, so that it can be asked again. */
export interface Ground {
  readonly key: string;
  readonly value: GroundValue;
  /**
   * Of a list: which of it reads the same on another part too, so that reading it again does not tell. Kept with the proof:
   * once one of two alike is gone, what is left may be either.
   */
  readonly unsure?: readonly boolean[];
}

/** A ground as it is now, with the words for it. What nobody has read is not among them. */
export interface KnownGround extends Ground {
  /** "the PWM frequency"; of a list, what stands before "of motor 2". */
  readonly name: string;
  /** A value in words; as it is where left out. */
  readonly shown?: (value: string | number | boolean) => string;
  /** The whole sentence where "was … and is …" says it badly. @param motor counted from 0, of a list. */
  readonly sentence?: (was: string, is: string, motor: number | undefined) => string;
}

/** What became of a proof's grounds. */
export interface GroundsNow {
  /** What differs, in words, one sentence each without a full stop. */
  readonly changes: readonly string[];
  /** Names of what nobody has read since. */
  readonly unread: readonly string[];
}

/** The part of a ground that is kept with a proof. */
export const keptGrounds = (grounds: readonly KnownGround[]): Ground[] =>
  grounds.map(({key, value, unsure}) => ({key, value, ...(unsure?.includes(true) ? {unsure} : {})}));

/**
 * Holds the grounds of a proof against those of now. A key that the proof does not have and that is known now has come
 * into play since: that is a change too.
 */
export function compareGrounds(of: readonly Ground[], now: readonly KnownGround[]): GroundsNow {
  const was = new Map(of.map((ground) => [ground.key, ground]));
  const is = new Set(now.map(({key}) => key));
  return {
    changes: now.flatMap((ground) => changesOf(ground, was.get(ground.key)?.value)),
    unread: [
      ...of.filter(({key}) => !is.has(key)).map(({key}) => key),
      ...now.flatMap((ground) => (hasUnread(ground, was.get(ground.key)) ? [ground.name] : [])),
    ],
  };
}

function changesOf(ground: KnownGround, was: GroundValue | undefined): string[] {
  const {value, name} = ground;
  const [before, after] = [was === undefined ? undefined : listOf(was), listOf(value)];
  const motorAt = (i: number) => (isList(value) ? i : undefined);
  if (before && before.length > after.length)
    return [`${name} was of ${before.length} motors and is of ${after.length}`];
  return after.flatMap((now, i) => {
    const then = before?.[i] ?? null;
    return now === null || now === then ? [] : [sentence(ground, then, now, motorAt(i))];
  });
}

/** Of a list: something that was known, and is not any more, or that reads or read the same on another part. */
const hasUnread = ({value, unsure}: KnownGround, was: Ground | undefined): boolean =>
  was !== undefined &&
  listOf(was.value).some((then, i) => {
    const isUnsure = unsure?.[i] === true || was.unsure?.[i] === true;
    return then !== null && (isUnsure || (listOf(value)[i] ?? null) === null);
  });

type Single = string | number | boolean;
const isList = (value: GroundValue): value is Exclude<GroundValue, Single> => Array.isArray(value);
const listOf = (value: GroundValue): readonly (Single | null)[] => (isList(value) ? value : [value]);

function sentence(ground: KnownGround, was: Single | null, is: Single, motor: number | undefined): string {
  const {name, shown = String, sentence: own} = ground;
  const of = motor === undefined ? name : `${name} of motor ${motor + 1}`;
  if (was === null) return `${of} was not part of it`;
  return own ? own(shown(was), shown(is), motor) : `${of} was ${shown(was)} and is ${shown(is)}`;
}
