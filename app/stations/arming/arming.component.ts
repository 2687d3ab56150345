import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import {armingProofs} from '@core/route/stations';
import {standingText} from '@core/proof/standing';
import {ConnectComponent} from '../../shared/connect.component';
import {ProblemComponent} from '../../shared/problem.component';
import {standingTag, standingWord} from '../../shared/standing-words';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {StandInStore} from '../../state/stand-in.store';
import {CockpitFeed} from './cockpit-feed';
import {FailSafeViewComponent} from './fail-safe-view.component';
import {LoopViewComponent} from './loop-view.component';
import {MountingViewComponent} from './mounting-view.component';
import {ReceiverViewComponent} from './receiver-view.component';
import {SwitchesViewComponent} from './switches-view.component';

type View = 'mounting' | 'receiver' | 'switches' | 'fail-safe' | 'loop';
const leads: Readonly<Record<View, string>> = {
  mounting: 'How the board sits in the craft. Tilt it twice and Bidex finds the angle.',
  receiver: 'Which channel is which stick, whether ends and centre are right, and how steadily frames come.',
  switches: 'What each switch does and where. The craft stays disarmed while Bidex holds it.',
  loop: 'How fast the control loop may run on this chip, and what fills it.',
  'fail-safe': 'What happens when the signal is gone: tried here once, and not in the air.',
};

/** Arming station: what must be right before this craft may be armed. */
@Component({
  selector: 'bx-arming',
  imports: [
    ConnectComponent,
    FailSafeViewComponent,
    FormsModule,
    LoopViewComponent,
    MountingViewComponent,
    ProblemComponent,
    ReceiverViewComponent,
    SelectButton,
    SwitchesViewComponent,
  ],
  providers: [CockpitFeed],
  templateUrl: './arming.component.html',
  styles: `
    p-selectbutton {
      max-width: 620px;
      margin: var(--s2) 0 var(--s6);
    }
    .proofs {
      display: flex;
      flex-wrap: wrap;
      gap: var(--s2) var(--s7);
      font-size: var(--fs-small);
      margin-bottom: var(--s5);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ArmingComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly record = inject(RecordStore);
  protected readonly feed = inject(CockpitFeed);
  private readonly fleet = inject(FleetStore);
  private readonly route = inject(CraftQuestionStore);

  protected readonly leads = leads;
  protected readonly views: {label: string; value: View}[] = [
    {label: 'Mounting', value: 'mounting'},
    {label: 'Receiver', value: 'receiver'},
    {label: 'Switches', value: 'switches'},
    {label: 'Fail-safe', value: 'fail-safe'},
    {label: 'Loop', value: 'loop'},
  ];
  protected readonly view = signal<View>('mounting');
  protected readonly tag = standingTag;
  protected readonly word = standingWord;
  protected readonly since = standingText;
  protected readonly proofs = computed(() => armingProofs(this.fleet.current()!, this.route.standings()!));
  /** The flight controller is reached: at once, or not on a single-wire adapter. */
  protected readonly isReached = computed(
    () => this.bench.isConnected() && !this.bench.onAdapter() && !!this.record.found()?.controller,
  );
}
