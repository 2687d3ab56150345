/** What was measured after the work: on which ESCs, how many things, when, and what it rests on. A proof of nothing has no type. */
import type {ReplyMeasure} from '../replies/replies';
import type {Ground} from './ground';

export const proofKinds = [
  'pages',
  'settings',
  'replies',
  'motion',
  'mounting',
  'receiver',
  'fail-safe',
  'level',
  'noise',
] as const;
export type ProofKind = (typeof proofKinds)[number];

/** At least one. */
export type Some<T> = readonly [T, ...T[]];
export const isSome = <T>(list: readonly T[]): list is Some<T> => list.length > 0;

declare const counted: unique symbol;
/** A whole number of things that were checked, at least 1. */
export type Count = number & {readonly [counted]: true};
/** `n` as a count; undefined when nothing was checked, so that nothing can be proven by it. */
export const countOf = (n: number): Count | undefined => (Number.isInteger(n) && n > 0 ? (n as Count) : undefined);

/** An ESC that a proof was taken on, by the serial burnt into its chip. */
export interface ProvenEsc {
  readonly output: number;
  readonly serial: string;
}

/** What a proof was taken on and how much of it. */
export interface ProofScope {
  readonly on: Some<ProvenEsc>;
  /** Pages, settings or replies that were checked. */
  readonly count: Count;
}

/** Where a proof was taken: the connection of one page, and the battery's power cycle in it. */
interface ProofMoment {
  /** Epoch ms, to be shown; nothing is judged by it. */
  readonly at: number;
  readonly session: string;
  readonly cycles: number;
}

/** A proof as it is measured; the record gives it its place. */
export interface NewProof extends ProofScope, ProofMoment {
  readonly kind: ProofKind;
  readonly holds: boolean;
  /** What was measured, in words and figures. */
  readonly text: string;
  /** What it was taken from, as that was then. */
  readonly grounds: Some<Ground>;
  /** Reply loss per level and motor, for kind "replies". */
  readonly replies?: readonly ReplyMeasure[];
  /** Frames of the receiver per second, for kind "receiver". */
  readonly frameHz?: number;
}

export interface ProofRecord extends NewProof {
  /** In the running count of the craft: everything that was written or proven later has a higher one. */
  readonly place: number;
}

/** The newest proof of a kind. */
export const latestProof = (proofs: readonly ProofRecord[], kind: ProofKind): ProofRecord | undefined =>
  proofs.filter((p) => p.kind === kind).at(-1);

/** Records of before proofs named their ESCs prove nothing any more; they are left out. */
export const isWholeProof = (proof: Pick<ProofRecord, 'on' | 'count' | 'session'>): boolean =>
  Array.isArray(proof.on) &&
  isSome(proof.on) &&
  countOf(proof.count) !== undefined &&
  typeof proof.session === 'string';
