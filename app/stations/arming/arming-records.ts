import {Injectable, inject} from '@angular/core';
import {armingProof, type Verdict} from '@core/arming/arming-proofs';
import type {ProofKind} from '@core/proof/proof';
import {canProve} from '@core/sheets/arming/arming';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {ProofMomentNow} from '../../state/proof-moment';
import {RecordStore} from '../../state/record.store';

/** Keeps what the views of the Arming station measured. */
@Injectable({providedIn: 'root'})
export class ArmingRecords {
  private readonly moment = inject(ProofMomentNow);
  private readonly questions = inject(CraftQuestionStore);
  private readonly record = inject(RecordStore);

  /** Keeps it as a proof of the plan of now, where the plan is what is set; `counted` things were looked at. */
  keep(kind: ProofKind, verdict: Verdict, counted: number): void {
    if (!canProve(this.questions.judged()!, kind)) return;
    const proof = armingProof(kind, verdict, {...this.moment.of(kind), on: this.moment.escs(), counted});
    if (proof) this.record.addProofs([proof]);
  }
}
