import {Injectable, computed, inject} from '@angular/core';
import {armingProof, type Verdict} from '@core/arming/arming-proofs';
import {planOver, type ControllerConfig} from '@core/controller/plan';
import {wholePlan} from '@core/craft/whole-plan';
import {plannedFor} from '@core/proof/planned';
import type {ProofKind} from '@core/proof/proof';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';

/** What the views of the Arming station share: the configuration found, the plan over it, and keeping a proof. */
@Injectable({providedIn: 'root'})
export class ArmingRecords {
  private readonly bench = inject(BenchStore);
  private readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);

  /** As the flight controller was found; undefined before a survey. */
  readonly found = computed((): ControllerConfig | undefined => this.record.found()?.controller?.config);
  /** What will be set: the plan, and where it is silent, what was found. */
  readonly planned = computed(() => planOver(wholePlan(this.fleet.current()!).controller, this.found()));

  /** Keeps what was measured as a proof of the plan of now; `counted` things were looked at. */
  keep(kind: ProofKind, verdict: Verdict, counted: number): void {
    const {session = '', cycles = 0} = this.bench.moment() ?? {};
    const on = (this.record.found()?.escs ?? []).map(({output, boot}) => ({output, serial: boot.serial}));
    const planned = plannedFor(kind, wholePlan(this.fleet.current()!));
    const proof = armingProof(kind, verdict, {at: Date.now(), session, cycles, planned, on, counted});
    if (proof) this.record.addProofs([proof]);
  }
}
