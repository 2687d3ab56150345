import {ChangeDetectionStrategy, Component, inject, input} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {withPlannedSettings, type SettingEdits} from '@core/sheets/parameters/held-settings';
import type {LoopSheet} from '@core/sheets/signal/loop';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FleetStore} from '../../state/fleet.store';

/** The clock of the processor: as rated, or raised, with what that risks and the way back. */
@Component({
  selector: 'bx-clock-choice',
  imports: [FormsModule, Select],
  template: `
    @if (sheet().clocks.length) {
      <div class="clock">
        <span id="clock-choice">Clock of the processor</span>
        <p-select
          ariaLabelledBy="clock-choice"
          [options]="sheet().clocks"
          optionLabel="label"
          optionValue="value"
          optionDisabled="disabled"
          appendTo="body"
          [ngModel]="sheet().clockMhz"
          (ngModelChange)="fleet.setController({clockMhz: $event})"
        />
        @if (sheet().isRaised) {
          <p>
            <b>A raised clock</b> runs the processor hotter and outside of what its maker answers for; it may stop in
            flight. After its start the work order asks the board over USB: one that stays silent is reported, and
            nothing else of the order is lost. <b>The way back:</b> plug it in with its button held or its pads bridged,
            as drawn on the Firmware station; it forgets the raised clock then.
          </p>
        } @else {
          <p class="quiet">
            A raised clock buys load with heat and risk. Clocks at which USB has no 48 MHz are not offered: such a board
            could be reached by its loader only.
          </p>
        }
        @if (sheet().withoutUsb; as without) {
          <span></span>
          <button type="button" class="btn" (click)="plan(without.action.edits)">{{ without.action.text }}</button>
          <p>{{ without.text }}</p>
        }
      </div>
    }
  `,
  styles: `
    .clock {
      display: grid;
      grid-template-columns: auto 260px minmax(300px, 1fr);
      gap: var(--s4) var(--s6);
      align-items: start;
      font-size: var(--fs-note);
      margin: var(--s2) 0 var(--s5);
    }
    .clock > span {
      padding-top: var(--s3);
      font-size: var(--fs-body);
    }
    p {
      max-width: 74ch;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ClockChoiceComponent {
  protected readonly fleet = inject(FleetStore);
  private readonly questions = inject(CraftQuestionStore);
  readonly sheet = input.required<LoopSheet>();

  protected plan(edits: SettingEdits): void {
    const q = this.questions.judged()!;
    this.fleet.edit((craft) => withPlannedSettings(craft, q, edits));
  }
}
