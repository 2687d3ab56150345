import {Injectable, inject} from '@angular/core';
import {wholePlan} from '@core/craft/whole-plan';
import type {NewProof, ProofKind} from '@core/proof/proof';
import {groundsOf} from '@core/route/proof-table';
import {BenchStore} from './bench.store';
import {FleetStore} from './fleet.store';
import {RecordStore} from './record.store';

/** Where and from what something is measured at this moment: what every proof of this page carries. */
@Injectable({providedIn: 'root'})
export class ProofMomentNow {
  private readonly bench = inject(BenchStore);
  private readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);

  /** @param off names a moment away from the bench, where none is connected. */
  of(kind: ProofKind, off = ''): Pick<NewProof, 'at' | 'session' | 'cycles' | 'grounds'> {
    const craft = this.fleet.current()!;
    const {session = off, cycles = 0} = this.bench.moment() ?? {};
    const {found, replaced} = this.record;
    const grounds = groundsOf(kind, {craft, plan: wholePlan(craft), found: found(), replaced: replaced()});
    return {at: Date.now(), session, cycles, grounds};
  }

  /** ESCs of the last survey, by the serials burnt into their chips. */
  escs(): {readonly output: number; readonly serial: string}[] {
    return (this.record.found()?.escs ?? []).map(({output, boot: {serial}}) => ({output, serial}));
  }
}
