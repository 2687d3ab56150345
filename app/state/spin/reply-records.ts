import {Injectable, inject} from '@angular/core';
import {whoAnswers} from '@core/bench/who-answers';
import type {NewProof, ProvenEsc} from '@core/proof/proof';
import {BenchStore} from '../bench.store';
import {FleetStore} from '../fleet.store';
import {ProofMomentNow} from '../proof-moment';
import {RecordStore} from '../record.store';

/** Keeps what was just measured of the replies, on the ESCs that answer now. */
@Injectable({providedIn: 'root'})
export class ReplyRecords {
  private readonly bench = inject(BenchStore);
  private readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);
  private readonly moment = inject(ProofMomentNow);

  /** Whether there was a proof to keep. Rejects when an ESC does not answer. */
  async keep(
    proofOf: (on: readonly ProvenEsc[], about: ReturnType<ProofMomentNow['of']>) => NewProof | undefined,
  ): Promise<boolean> {
    const {arms} = this.fleet.current()!;
    const on = await whoAnswers(this.bench.requireClient(), Array.from(arms.keys()));
    const proof = proofOf(on, this.moment.of('replies'));
    if (proof) this.record.addProofs([proof]);
    return proof !== undefined;
  }
}
