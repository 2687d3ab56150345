import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import type {ControllerPlan} from '@core/craft/craft';
import {findChip} from '@core/firmware/chips';
import {biquadsPerAxis, loopBudget, protocolName, protocolRate, type LoopBudget} from '@core/dshot/loop-budget';
import {rpmOfErpm} from '@core/dshot/reply';
import {ProblemError, type Problem} from '@core/problem';
import {replyLoss, type ReplyMeasure} from '@core/proof/proof';
import {replyProof} from '@core/work/prove';
import {latestProof} from '@core/work/stations';
import {ConnectComponent} from '../../shared/connect.component';
import {HoldButtonComponent} from '../../shared/hold-button.component';
import {ProblemComponent} from '../../shared/problem.component';
import {PropsOffComponent} from '../../shared/props-off.component';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {WorkStore} from '../../state/work.store';

interface BudgetRow {
  readonly title: string;
  readonly config: string;
  readonly budget: LoopBudget;
}

/** Signal station: protocol and loop budget, replies and their loss per motor. */
@Component({
  selector: 'bx-signal',
  imports: [
    FormsModule,
    Select,
    SelectButton,
    ConnectComponent,
    HoldButtonComponent,
    ProblemComponent,
    PropsOffComponent,
  ],
  templateUrl: './signal.component.html',
  styleUrl: './signal.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignalComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly fleet = inject(FleetStore);
  protected readonly record = inject(RecordStore);
  protected readonly work = inject(WorkStore);
  protected readonly problem = signal<Problem | undefined>(undefined);

  protected readonly plan = computed(() => this.fleet.current()!.plan.controller);
  protected readonly protocols = Object.entries(protocolName).map(([value, label]) => ({value, label}));
  protected readonly onOff = [
    {label: 'off', value: false},
    {label: 'on', value: true},
  ];
  protected readonly loops = [8000, 4000, 2000].map((value) => ({value, label: `${value / 1000} kHz`}));

  protected readonly budgets = computed((): BudgetRow[] => {
    const found = this.record.found()?.controller;
    const clockMhz = found?.identity.clockMhz;
    if (!found || !clockMhz) return [];
    const outputs = this.fleet.current()!.arms.length;
    const row = (title: string, c: ControllerPlan): BudgetRow => ({
      title,
      config: `${protocolName[c.protocol]}, replies ${c.replies ? 'on' : 'off'}, ${c.loopHz / 1000} kHz`,
      budget: loopBudget({
        clockMhz,
        loopHz: c.loopHz,
        protocol: c.protocol,
        replies: c.replies,
        outputs,
        biquadsPerAxis: biquadsPerAxis(c.replies ? c : {...c, notchHarmonics: []}, outputs),
      }),
    });
    return [row('found', found.config), row('plan', this.plan())];
  });

  /** What a person should know about the planned signal, in sentences. */
  protected readonly remarks = computed(() => {
    const planned = this.budgets()[1]?.budget;
    const {protocol, replies} = this.plan();
    const out: {tag: string; word: string; text: string}[] = [];
    if (planned && replies && !planned.wireFits)
      out.push({
        tag: 'diff',
        word: 'too slow',
        text: `One exchange takes ${planned.wire.totalUs.toFixed(0)} µs, the loop repeats every ${planned.periodUs.toFixed(0)} µs. Plan a slower loop or a faster protocol.`,
      });
    if (planned && planned.load > 0.65)
      out.push({
        tag: 'diff',
        word: 'overloaded',
        text: `The gyro task would take ${(planned.load * 100).toFixed(0)} % of the loop; beyond 65 % replies are lost.`,
      });
    else if (planned && planned.load > 0.5)
      out.push({
        tag: 'wait',
        word: 'close',
        text: `The gyro task would take ${(planned.load * 100).toFixed(0)} % of the loop; under 50 % is good practice.`,
      });
    const slow = this.record
      .found()
      ?.escs.find((e) => protocolRate[protocol] > (findChip(e.boot.chip)?.fastestReplyDshot ?? 0));
    if (slow && replies)
      out.push({
        tag: 'diff',
        word: 'too fast',
        text: `${slow.boot.chip} hears at most DShot${findChip(slow.boot.chip)?.fastestReplyDshot} with replies.`,
      });
    if (!out.length && planned)
      out.push({
        tag: 'ok',
        word: 'fits',
        text: 'The exchange ends before the next loop, and the load leaves room.',
      });
    return out;
  });

  protected readonly proof = computed(() => latestProof(this.record.proofs(), 'replies'));
  protected readonly live = computed(() =>
    this.bench.motors().map((m, i) => ({
      motor: i + 1,
      rpm: m.erpm === null ? null : rpmOfErpm(m.erpm, this.plan().poles),
      throttle: m.throttle,
      loss: this.bench.recentLoss()[i],
    })),
  );
  protected readonly canMeasure = computed(
    () => this.bench.propsOff() && !this.bench.occupied() && !!this.record.found()?.controller?.config.replies,
  );

  protected set(changes: Partial<ControllerPlan>): void {
    this.fleet.setController(changes);
  }

  protected async hold(): Promise<void> {
    this.problem.set(undefined);
    this.work.hold();
    try {
      const measures = await this.work.measure(this.fleet.current()!.arms.length, this.plan().poles, {
        aborted: false,
      });
      this.record.addProofs([replyProof(measures, Date.now())]);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      this.problem.set(error.problem);
    }
  }

  protected loss(m: ReplyMeasure['motors'][number]): string {
    const loss = replyLoss(m);
    return loss === undefined ? '–' : `${(loss * 100).toFixed(1)} %`;
  }

  protected isBad(m: ReplyMeasure['motors'][number]): boolean {
    return replyLoss(m) !== 0;
  }

  protected share(part: number, budget: LoopBudget): number {
    return Math.min(100, (100 * part) / budget.periodUs);
  }
}
