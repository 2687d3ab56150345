import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {liveLines, measureAsk, repliesProofSheet, repliesRule} from '@core/sheets/signal/replies';
import {ConnectComponent} from '../../shared/connect.component';
import {GateComponent} from '../../shared/gate.component';
import {HoldButtonComponent} from '../../shared/hold-button.component';
import {ProblemComponent} from '../../shared/problem.component';
import {BenchStore} from '../../state/bench.store';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {RecordStore} from '../../state/record.store';
import {WorkStore} from '../../state/work.store';
import {RepliesStore} from './replies.store';
import {StressViewComponent} from './stress-view.component';

/** Replies as they come: the stress run and what it shows, the measurement of the proof, and every motor now. */
@Component({
  selector: 'bx-replies-view',
  imports: [ConnectComponent, GateComponent, HoldButtonComponent, ProblemComponent, StressViewComponent],
  providers: [RepliesStore],
  templateUrl: './replies-view.component.html',
  styleUrl: './signal.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RepliesViewComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly record = inject(RecordStore);
  protected readonly work = inject(WorkStore);
  protected readonly replies = inject(RepliesStore);
  private readonly questions = inject(CraftQuestionStore);

  protected readonly rule = repliesRule;
  protected readonly proof = this.questions.sheet(repliesProofSheet);
  protected readonly ask = this.questions.sheet(measureAsk);
  protected readonly live = computed(() =>
    liveLines(this.questions.judged()!, this.bench.motors(), this.bench.recentLoss()),
  );
  /** Whether any ESC tells more than its speed. */
  protected readonly tellsMore = computed(() => this.live().some((line) => line.told !== undefined));
}
