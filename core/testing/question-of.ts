/** Questions that sheets are tried with: a craft in its states, without an application. */
import type {Craft} from '../craft/craft';
import {airframe} from '../craft/airframes';
import {changeArms} from '../craft/change-arms';
import {proofKinds} from '../proof/proof';
import {blankRecord, type CraftRecord} from '../route/craft-record';
import {judgedCraft, type BenchNow, type CraftQuestion, type CraftSources} from '../sheets/craft-question';
import {foundAsPlanned} from './found-as-planned';
import {proofOf, sightingOf, testSession} from './proof-of';

/** A bench that is connected, powered and free. */
export const freeBench: BenchNow = {
  ...{isConnected: true, isPowered: true, isOccupied: false, isOnAdapter: false, cycles: 1},
  ...{isPropsOff: true, isRunningOut: false},
};

/** Everything found as planned, every proof there, but for a flight's. */
export const provenRecord = (craft: Craft): CraftRecord => ({
  ...blankRecord(craft.id),
  ...{count: 20, found: foundAsPlanned(craft), foundPlace: 1},
  proofs: proofKinds.filter((kind) => kind !== 'noise').map((kind) => proofOf(kind, craft)),
  sightings: craft.arms.map((_, output) => sightingOf(output, craft)),
});

interface Over extends Partial<Omit<CraftSources, 'record'>> {
  readonly record?: Partial<CraftRecord>;
  readonly bench?: Partial<BenchNow>;
}

/** A craft with all proven, but for what is given. */
export function questionOf(craft: Craft, {record = {}, bench = {}, ...more}: Over = {}): CraftQuestion {
  const sources: CraftSources = {
    ...{craft, record: {...provenRecord(craft), ...record}, now: {session: testSession, cycles: 1}, board: undefined},
    ...more,
  };
  return {...judgedCraft(sources), bench: {...freeBench, ...bench}};
}

/** A craft that nobody has connected yet. */
export const emptyQuestion = (craft: Craft): CraftQuestion => ({
  ...judgedCraft({craft, record: blankRecord(craft.id), now: undefined, board: undefined}),
  bench: {...freeBench, isConnected: false, isPowered: false, cycles: undefined, isPropsOff: false},
});

/** The same craft with eight arms. */
export const withEightMotors = (craft: Craft): Craft => changeArms(craft, airframe('octo X', 250));
