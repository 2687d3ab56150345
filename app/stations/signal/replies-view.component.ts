import {ChangeDetectionStrategy, Component, inject, computed, signal} from '@angular/core';
import {rpmOfErpm} from '@core/dshot/reply';
import {ProblemError, type Problem} from '@core/problem';
import {upperBound} from '@core/replies/binomial-bound';
import {plausibleShare, replyLoss, speedSpread, type MotorReplies} from '@core/replies/replies';
import {replyProof} from '@core/spin/reply-proof';
import {standingText} from '@core/proof/standing';
import {ConnectComponent} from '../../shared/connect.component';
import {GateComponent} from '../../shared/gate.component';
import {HoldButtonComponent} from '../../shared/hold-button.component';
import {ProblemComponent} from '../../shared/problem.component';
import {standingTag, standingWord} from '@core/words/standing';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {ReplyRecords} from '../../state/reply-records';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {WorkStore} from '../../state/work.store';
import {StressViewComponent} from './stress-view.component';
import {grouped} from '@core/words/grouped';
import {percent} from '@core/words/percent';

const noReplies: Problem = {
  code: 'no-replies',
  place: 'reply measurement',
  meaning: 'No replies were requested: they are off in the flight controller.',
  remedy: 'Plan replies and carry out the work order.',
};

/** Replies as they come: the stress run and what it shows, the measurement of the proof, and every motor now. */
@Component({
  selector: 'bx-replies-view',
  imports: [ConnectComponent, GateComponent, HoldButtonComponent, ProblemComponent, StressViewComponent],
  templateUrl: './replies-view.component.html',
  styleUrl: './signal.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RepliesViewComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly fleet = inject(FleetStore);
  protected readonly record = inject(RecordStore);
  protected readonly work = inject(WorkStore);
  private readonly route = inject(CraftQuestionStore);
  private readonly replies = inject(ReplyRecords);
  protected readonly problem = signal<Problem | undefined>(undefined);

  protected readonly plan = computed(() => this.fleet.current()!.plan.controller);
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
      // Without a reply asked for in the last second an age says nothing.
      ageMs: this.bench.recentLoss()[i] === undefined ? undefined : m.lostAs?.ageMs,
      told: m.told,
    })),
  );
  /** Whether any ESC tells more than its speed. */
  protected readonly tellsMore = computed(() => this.live().some((m) => m.told));
  protected readonly canMeasure = computed(
    () => this.bench.propsOff() && !this.bench.occupied() && !!this.record.found()?.controller?.config.replies,
  );

  protected async hold(): Promise<void> {
    this.problem.set(undefined);
    this.work.hold();
    try {
      const measures = await this.work.measure({aborted: false});
      const isKept = await this.replies.keep((on, about) => replyProof(measures, on, about));
      if (!isKept) this.problem.set(noReplies);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      this.problem.set(error.problem);
    }
  }

  /** A count as people read it; a share alone would round one lost reply to nothing. */
  protected count(n: number): string {
    return grouped(n);
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
}
