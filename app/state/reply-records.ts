import {Injectable, inject} from '@angular/core';
import {whoAnswers} from '@core/bench/who-answers';
import {plannedFor} from '@core/proof/planned';
import type {ProofMoment, ProofRecord, ProvenEsc} from '@core/proof/proof';
import {BenchStore} from './bench.store';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';

/** Keeps what was just measured of the replies, on the ESCs that answer now. */
@Injectable({providedIn: 'root'})
export class ReplyRecords {
  private readonly bench = inject(BenchStore);
  private readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);

  /** Whether there was a proof to keep. Rejects when an ESC does not answer. */
  async keep(
    proofOf: (on: readonly ProvenEsc[], about: ProofMoment & Pick<ProofRecord, 'planned'>) => ProofRecord | undefined,
  ): Promise<boolean> {
    const {arms, plan} = this.fleet.current()!;
    const on = await whoAnswers(this.bench.requireClient(), Array.from(arms.keys()));
    const {session = '', cycles = 0} = this.bench.moment() ?? {};
    const proof = proofOf(on, {at: Date.now(), session, cycles, planned: plannedFor('replies', plan)});
    if (proof) this.record.addProofs([proof]);
    return proof !== undefined;
  }
}
