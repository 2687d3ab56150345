import {ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import {spinAsks, spinLead, spinRemarks, spinViewsOf, type SpinView} from '@core/sheets/spin/spin';
import {ConnectComponent} from '../../shared/connect.component';
import {RemarksComponent} from '../../shared/remarks.component';
import {BenchStore} from '../../state/bench.store';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FileInbox} from '../../state/file-inbox';
import {MotionStore} from '../../state/spin/motion.store';
import {SpinHoldStore} from '../../state/spin/spin-hold.store';
import {StandInStore} from '../../state/stand-in.store';
import {MixerComponent} from './mixer.component';
import {MotorOrderComponent} from './motor-order.component';
import {SoundsViewComponent} from './sounds-view.component';
import {StepsAndCutsComponent} from './steps-and-cuts.component';
import {ThrottleRangeComponent} from './throttle-range.component';

/** Spin station: what turns, how, and how far; one view for each question. */
@Component({
  selector: 'bx-spin',
  imports: [
    FormsModule,
    SelectButton,
    ConnectComponent,
    MixerComponent,
    MotorOrderComponent,
    RemarksComponent,
    SoundsViewComponent,
    StepsAndCutsComponent,
    ThrottleRangeComponent,
  ],
  providers: [SpinHoldStore],
  templateUrl: './spin.component.html',
  styleUrl: './spin.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SpinComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly hold = inject(SpinHoldStore);
  private readonly inbox = inject(FileInbox);
  private readonly questions = inject(CraftQuestionStore);

  protected readonly views = this.questions.sheet((q) => spinViewsOf(q.craft));
  protected readonly view = signal<SpinView>('order');
  protected readonly lead = computed(() => spinLead(this.view()));
  /** Of motors that a person sees turn or rest. */
  protected readonly remarks = this.questions.sheet((q) => spinRemarks(q, this.view()));
  protected readonly asks = this.questions.sheet((q) => spinAsks(q, this.view()));

  constructor() {
    // A trace or a melody that was dropped is opened where it belongs.
    effect(() => {
      const kind = this.inbox.wanted()?.kind;
      if ((kind !== 'trace' && kind !== 'melody') || !untracked(() => this.inbox.has(kind))) return;
      untracked(() => this.turnTo(kind === 'trace' ? 'steps' : 'sounds'));
    });
    void inject(MotionStore).open();
  }

  /** Another view: what was held here ends. */
  protected turnTo(view: SpinView): void {
    this.hold.end();
    this.view.set(view);
  }
}
