import {ChangeDetectionStrategy, Component, inject, signal} from '@angular/core';
import {ButtonsFieldComponent} from '../../shared/buttons-field.component';
import {SelectFieldComponent} from '../../shared/select-field.component';
import {budgetSheet, type ControllerPlan} from '@core/sheets/signal/signal-budget';
import {ConnectComponent} from '../../shared/connect.component';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FleetStore} from '../../state/fleet.store';
import {OwnPlace} from '../../state/own-place';
import {RecordStore} from '../../state/record.store';
import {LoopBarsComponent} from './loop-bars.component';
import {PairTableComponent} from './pair-table.component';
import {SignalFindingsComponent} from './signal-findings.component';

/** Which protocol goes with which loop: findings on the plan, one loop to scale, and every pair there is. */
@Component({
  selector: 'bx-budget-view',
  imports: [
    ButtonsFieldComponent,
    SelectFieldComponent,
    ConnectComponent,
    LoopBarsComponent,
    NumberFieldComponent,
    PairTableComponent,
    SignalFindingsComponent,
  ],
  templateUrl: './budget-view.component.html',
  styleUrl: './signal.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BudgetViewComponent {
  protected readonly fleet = inject(FleetStore);
  protected readonly record = inject(RecordStore);
  private readonly own = inject(OwnPlace);

  /** Another chip or clock than the craft's, to look at. */
  protected readonly otherChip = signal('');
  protected readonly otherMhz = signal(0);
  protected readonly sheet = inject(CraftQuestionStore).sheet((q) =>
    budgetSheet(q, {
      ...{place: this.own.place(), chip: this.own.chip()?.name},
      ...{otherChip: this.otherChip(), otherMhz: this.otherMhz()},
    }),
  );
  protected readonly onOff = [
    {label: 'off', value: false},
    {label: 'on', value: true},
  ];

  protected set(changes: Partial<ControllerPlan>): void {
    this.fleet.setController(changes);
  }
}
