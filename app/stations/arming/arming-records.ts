import {Injectable, computed, inject} from '@angular/core';
import {armingProof, type Verdict} from '@core/arming/arming-proofs';
import {planOver, type ControllerConfig} from '@core/controller/plan';
import {wholePlan} from '@core/craft/whole-plan';
import type {ProofKind} from '@core/proof/proof';
import {FleetStore} from '../../state/fleet.store';
import {ProofMomentNow} from '../../state/proof-moment';
import {RecordStore} from '../../state/record.store';

/** What the views of the Arming station share: the configuration found, the plan over it, and keeping a proof. */
@Injectable({providedIn: 'root'})
export class ArmingRecords {
  private readonly moment = inject(ProofMomentNow);
  private readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);

  /** As the flight controller was found; undefined before a survey. */
  readonly found = computed((): ControllerConfig | undefined => this.record.found()?.controller?.config);
  /** What will be set: the plan, and where it is silent, what was found. */
  readonly planned = computed(() => planOver(wholePlan(this.fleet.current()!).controller, this.found()));

  /** Keeps what was measured as a proof of the plan of now; `counted` things were looked at. */
  keep(kind: ProofKind, verdict: Verdict, counted: number): void {
    const proof = armingProof(kind, verdict, {...this.moment.of(kind), on: this.moment.escs(), counted});
    if (proof) this.record.addProofs([proof]);
  }
}
