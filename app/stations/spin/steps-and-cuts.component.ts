import {ChangeDetectionStrategy, Component, computed, effect, inject, untracked} from '@angular/core';
import {SelectFieldComponent} from '../../shared/select-field.component';
import {FormsModule} from '@angular/forms';
import {InputText} from 'primeng/inputtext';
import {Select} from 'primeng/select';
import {ChartComponent} from '../../charts/chart.component';
import {download} from '../../shared/download';
import {GateComponent} from '../../shared/gate.component';
import {HoldButtonComponent} from '../../shared/hold-button.component';
import {playMotors} from '../../shared/motor-sound';
import {pickedFiles} from '../../shared/picked-files';
import {ProblemComponent} from '../../shared/problem.component';
import {BenchStore} from '../../state/bench.store';
import {FileInbox} from '../../state/file-inbox';
import {MotionStore} from '../../state/spin/motion.store';
import {StepsStore} from '../../state/steps.store';
import {motionOption, motorLine} from './motion-option';
import {SuggestedIdleComponent} from './suggested-idle.component';

/** Steps and cuts: one hold turns the motors through a script; what the burst shows is fitted and compared. */
@Component({
  selector: 'bx-steps-and-cuts',
  imports: [
    SelectFieldComponent,
    FormsModule,
    InputText,
    Select,
    ChartComponent,
    HoldButtonComponent,
    ProblemComponent,
    GateComponent,
    SuggestedIdleComponent,
  ],
  providers: [StepsStore],
  templateUrl: './steps-and-cuts.component.html',
  styleUrl: './steps-and-cuts.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StepsAndCutsComponent {
  protected readonly steps = inject(StepsStore);
  protected readonly motion = inject(MotionStore);
  protected readonly bench = inject(BenchStore);
  private readonly inbox = inject(FileInbox);

  protected readonly line = motorLine;
  protected readonly option = computed(() => {
    const run = this.motion.own();
    return run && motionOption(run, this.motion.earlier());
  });

  constructor() {
    void this.motion.open();
    effect(() => {
      if (this.motion.problem() !== undefined || !this.inbox.has('trace')) return;
      const file = untracked(() => this.inbox.take('trace'));
      if (file) untracked(() => void this.motion.openFile(file));
    });
  }

  protected async pickTrace(event: Event): Promise<void> {
    const [file] = pickedFiles(event);
    if (file) await this.motion.openFile(file);
  }

  /** Plays how the motors sounded: each motor's speed as a pitch, what it lost as a break. */
  protected listen(): void {
    const run = this.motion.own();
    if (run) void playMotors(run.trace, run.outputs);
  }

  protected saveCsv(): void {
    const {name, text} = this.steps.csv();
    download(name, text, 'text/csv');
  }

  protected saveJson(): void {
    const {name, text} = this.steps.json();
    download(name, text, 'application/json');
  }
}
