import {ChangeDetectionStrategy, Component, inject} from '@angular/core';
import {ButtonsFieldComponent} from '../../shared/buttons-field.component';
import {GateComponent} from '../../shared/gate.component';
import {HoldButtonComponent} from '../../shared/hold-button.component';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {ProblemComponent} from '../../shared/problem.component';
import {StandInStore} from '../../state/stand-in.store';
import {FailSafeStore} from './fail-safe.store';

/** What the craft does without a signal: told in one sentence, planned, and tried with motors at idle. */
@Component({
  selector: 'bx-fail-safe-view',
  imports: [ButtonsFieldComponent, GateComponent, HoldButtonComponent, NumberFieldComponent, ProblemComponent],
  providers: [FailSafeStore],
  templateUrl: './fail-safe-view.component.html',
  styleUrl: './arming-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FailSafeViewComponent {
  protected readonly failSafe = inject(FailSafeStore);
  protected readonly standIn = inject(StandInStore);
}
