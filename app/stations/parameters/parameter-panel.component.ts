import {ChangeDetectionStrategy, Component, computed, inject, input, signal} from '@angular/core';
import type {PlannedValue} from '@core/craft/craft';
import {parameterPanel, sharedValue} from '@core/sheets/parameters/parameter-panel';
import type {ParameterRow} from '@core/sheets/parameters/parameters';
import {motorList} from '@core/words/motor-list';
import {ChartComponent} from '../../charts/chart.component';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {PlanEdits} from '../../state/plan-edits';
import {WorkStore} from '../../state/work.store';
import {effectOption} from './effect-option';
import {ParameterEditorComponent} from './parameter-editor.component';

/** Below an open line: what the parameter does, in general and to this craft, and ways to plan it motor by motor. */
@Component({
  selector: 'bx-parameter-panel',
  imports: [ChartComponent, ParameterEditorComponent],
  templateUrl: './parameter-panel.component.html',
  styleUrl: './parameter-panel.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ParameterPanelComponent {
  readonly row = input.required<ParameterRow>();
  private readonly work = inject(WorkStore);
  private readonly plan = inject(PlanEdits);
  private readonly question = inject(CraftQuestionStore).question;

  protected readonly definition = computed(() => this.row().definition);
  protected readonly motors = computed(() => this.row().values.map((_, i) => i));
  protected readonly sheet = computed(() => parameterPanel(this.row(), this.question()!, this.work.plannedEscs()[0]));
  /** Motors that the next value is set on. */
  protected readonly picked = signal<readonly number[]>([]);
  protected readonly pickedText = computed(() => motorList(this.picked(), this.motors().length));
  protected readonly pickedValue = computed(() => sharedValue(this.row(), this.picked()));
  protected readonly option = computed(() => {
    const {effect, found, planned} = this.sheet();
    return effect?.lines.length ? effectOption(effect, {found, planned}) : undefined;
  });

  protected pick(motor: number): void {
    this.picked.update((all) =>
      all.includes(motor) ? all.filter((m) => m !== motor) : [...all, motor].sort((a, b) => a - b),
    );
  }

  /** Takes the value typed for the picked motors into the plan. */
  protected setOnPicked(value: PlannedValue): void {
    if (value.kind === 'same' && this.picked().length) this.plan.setOn(this.row(), value.value, this.picked());
  }

  protected adopt(): void {
    this.plan.adopt(this.definition().key);
  }

  protected adoptFrom(motor: number): void {
    this.plan.adopt(this.definition().key, motor);
  }

  protected planFor(value: number): void {
    this.plan.setAll(this.definition().key, value);
  }

  protected leaveOpen(): void {
    this.plan.clear(this.definition().key);
  }
}
