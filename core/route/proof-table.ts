/** Every kind of proof with what it rests on: a kind without a row does not compile. */
import {failSafeRow, levelRow, mountingRow, receiverRow} from '../arming/proof-rows';
import {groundsOfRow, type GroundsQuestion, type ProofRow} from '../bench/grounds';
import {noiseRow} from '../compare/noise-row';
import type {Ground} from '../proof/ground';
import type {ProofKind, Some} from '../proof/proof';
import {pagesRow, settingsRow} from '../run/proof-rows';
import {motionRow, repliesRow} from '../spin/verdict/proof-rows';

export const proofTable: Readonly<Record<ProofKind, ProofRow>> = {
  pages: pagesRow,
  settings: settingsRow,
  replies: repliesRow,
  motion: motionRow,
  mounting: mountingRow,
  receiver: receiverRow,
  'fail-safe': failSafeRow,
  level: levelRow,
  noise: noiseRow,
};

/** What a proof of a kind rests on at this moment, to be kept with it. */
export const groundsOf = (kind: ProofKind, q: GroundsQuestion): Some<Ground> => groundsOfRow(proofTable[kind], q);
