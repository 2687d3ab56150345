/** The record of a craft in memory, as component specs look through it. */
import {computed, signal, type Signal} from '@angular/core';
import type {Found} from '@core/bench/found';
import type {Part} from '@core/bench/replaced';
import type {NewProof} from '@core/proof/proof';
import {
  blankRecord,
  withFound,
  withPartReplaced,
  withProofs,
  withSighting,
  type CraftRecord,
  type RecordChange,
} from '@core/route/craft-record';
import type {ScriptChoice} from '@core/spin/script/script-choices';
import type {Sighting} from '@core/spin/sighting/sighting';

/** @param first what is known from the start, beside a blank record. */
export function fakeRecord(first: Partial<CraftRecord> = {}) {
  const record = signal<CraftRecord>({...blankRecord('juniper'), ...first});
  const change = (step: (r: CraftRecord) => RecordChange) => record.update((r) => ({...r, ...step(r)}));
  const of = <K extends keyof CraftRecord>(key: K): Signal<CraftRecord[K]> => computed(() => record()[key]);
  return {
    record,
    change,
    ...{craftId: of('craftId'), found: of('found'), proofs: of('proofs'), sightings: of('sightings')},
    ...{noise: of('noise'), written: of('written'), writtenAt: of('writtenAt'), replaced: of('replaced')},
    ...{firstPower: of('firstPower'), script: of('script'), notes: of('notes')},
    storeFault: signal<string | undefined>(undefined),
    unread: signal(false),
    setFound: (found: Found) => change((r) => withFound(r, found)),
    addProofs: (proofs: readonly NewProof[]) => change((r) => withProofs(r, proofs)),
    addSighting: (s: Omit<Sighting, 'place'>) => change((r) => withSighting(r, s)),
    notePartReplaced: (part: Part) => change((r) => withPartReplaced(r, part)),
    chooseScript: (script: ScriptChoice) => change(() => ({script})),
  };
}
