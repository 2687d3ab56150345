import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import {asRunning, type ControllerPlan} from '@core/controller/plan';
import {budgetOf} from '@core/controller/budget-of';
import {signalRemarks} from '@core/compare/signal-remarks';
import type {LoopBudget} from '@core/dshot/loop-budget';
import {protocolName} from '@core/dshot/protocol';
import {rpmOfErpm} from '@core/dshot/reply';
import {ProblemError, type Problem} from '@core/problem';
import {whoAnswers} from '@core/bench/who-answers';
import {plannedFor} from '@core/proof/planned';
import {upperBound} from '@core/proof/binomial-bound';
import {percent, plausibleShare, replyLoss, speedSpread, type MotorReplies} from '@core/proof/replies';
import {standingText} from '@core/proof/standing';
import {replyProof} from '@core/proof/reply-proof';
import {ConnectComponent} from '../../shared/connect.component';
import {standingTag, standingWord} from '../../shared/standing-words';
import {HoldButtonComponent} from '../../shared/hold-button.component';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {ProblemComponent} from '../../shared/problem.component';
import {GateComponent} from '../../shared/gate.component';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {RouteStore} from '../../state/route.store';
import {WorkStore} from '../../state/work.store';
import {FrameDeskComponent} from './frame-desk.component';

const noReplies: Problem = {
  code: 'no-replies',
  place: 'reply measurement',
  meaning: 'No replies were asked for: they are off in the flight controller.',
  remedy: 'Plan replies and carry out the work order.',
};

type View = 'replies' | 'frame';
const leads: Readonly<Record<View, string>> = {
  replies:
    'The protocol must fit the loop, and no reply may be lost: not at idle, not when all motors spin up. A jumping figure or 100 % has a cause; look for it here.',
  frame: 'One command and its reply, bit by bit and to scale; and bits from elsewhere, read back.',
};

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
    FrameDeskComponent,
    NumberFieldComponent,
    Select,
    SelectButton,
    ConnectComponent,
    HoldButtonComponent,
    ProblemComponent,
    GateComponent,
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
  private readonly route = inject(RouteStore);
  protected readonly leads = leads;
  protected readonly views: {label: string; value: View}[] = [
    {label: 'Budget and replies', value: 'replies'},
    {label: 'Frame desk', value: 'frame'},
  ];
  protected readonly view = signal<View>('replies');
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
      budget: budgetOf(c, {clockMhz, outputs}),
    });
    return [row('found', asRunning(found.config)), row('plan', this.plan())];
  });

  /** What a person should know about the planned signal, in sentences. */
  protected readonly remarks = computed(() => {
    const budget = this.budgets()[1]?.budget;
    return budget ? signalRemarks({plan: this.plan(), budget, escs: this.record.found()?.escs ?? []}) : [];
  });

  protected readonly standing = computed(() => this.route.standings()!.replies);
  protected readonly proof = computed(() => {
    const standing = this.standing();
    return standing.kind === 'none' ? undefined : standing.proof;
  });
  protected readonly percent = percent;
  protected readonly shares = plausibleShare;
  protected readonly spread = speedSpread;
  protected readonly tag = computed(() => standingTag[this.standing().kind]);
  protected readonly word = computed(() => standingWord[this.standing().kind]);
  protected readonly since = computed(() => standingText(this.standing()));
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
      const measures = await this.work.measure({aborted: false});
      const client = this.bench.requireClient();
      const on = await whoAnswers(client, Array.from(this.plan().arms.keys()));
      const {session = '', cycles} = this.bench.moment() ?? {};
      const planned = plannedFor('replies', this.fleet.current()!.plan);
      const proof = replyProof(measures, on, {at: Date.now(), session, cycles: cycles ?? 0, planned});
      if (proof) this.record.addProofs([proof]);
      else this.problem.set(noReplies);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      this.problem.set(error.problem);
    }
  }

  /** A count as people read it; a share alone would round one lost reply to nothing. */
  protected count(n: number): string {
    return n.toLocaleString('en');
  }

  protected isBad(m: MotorReplies): boolean {
    return replyLoss(m) !== 0 || !m.rpm;
  }

  /** What the counts bound the true loss to, per motor. */
  protected bound(motor: number): string {
    const levels = this.proof()?.replies ?? [];
    const [asked, lost] = levels.reduce(
      ([a, l], {motors}) => [a + (motors[motor]?.asked ?? 0), l + (motors[motor]?.lost ?? 0)],
      [0, 0],
    );
    if (!asked) return '–';
    return `${lost ? `${percent(lost / asked)}, ` : ''}< ${percent(upperBound(lost, asked))}`;
  }

  protected share(part: number, budget: LoopBudget): number {
    return Math.min(100, (100 * part) / budget.periodUs);
  }
}
