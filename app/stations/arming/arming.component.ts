import {ChangeDetectionStrategy, Component, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import {armingSheet, armingViews, type ArmingView} from '@core/sheets/arming/arming';
import {ConnectComponent} from '../../shared/connect.component';
import {ProblemComponent} from '../../shared/problem.component';
import {RemarksComponent} from '../../shared/remarks.component';
import {BenchStore} from '../../state/bench.store';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {StandInStore} from '../../state/stand-in.store';
import {CockpitFeed} from './cockpit-feed';
import {FailSafeViewComponent} from './fail-safe-view.component';
import {LoopViewComponent} from './loop-view.component';
import {MountingViewComponent} from './mounting-view.component';
import {ReceiverViewComponent} from './receiver-view.component';
import {SwitchesViewComponent} from './switches-view.component';

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
    RemarksComponent,
    SelectButton,
    SwitchesViewComponent,
  ],
  providers: [CockpitFeed],
  templateUrl: './arming.component.html',
  styles: `
    .proofs {
      display: flex;
      flex-wrap: wrap;
      gap: var(--s2) var(--s6);
      margin: var(--s5) 0;
      font-size: var(--fs-body);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ArmingComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly feed = inject(CockpitFeed);
  protected readonly views = armingViews;
  protected readonly view = signal<ArmingView>('mounting');
  protected readonly sheet = inject(CraftQuestionStore).sheet((q) => armingSheet(q, this.view()));
}
