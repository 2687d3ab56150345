import {ChangeDetectionStrategy, Component, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {InputText} from 'primeng/inputtext';
import {heldSettingsSheet} from '@core/sheets/parameters/held-settings';
import {CraftQuestionStore} from '../../state/craft-question.store';

/** What the flight controller holds beside the fields of the plan, section by section. */
@Component({
  selector: 'bx-held-settings',
  imports: [FormsModule, InputText],
  templateUrl: './held-settings.component.html',
  styleUrl: './held-settings.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class HeldSettingsComponent {
  protected readonly text = signal('');
  protected readonly onlyChanged = signal(false);
  private readonly opened = signal<string | undefined>(undefined);
  protected readonly sheet = inject(CraftQuestionStore).sheet((q) =>
    heldSettingsSheet(q, {text: this.text(), onlyChanged: this.onlyChanged(), opened: this.opened()}),
  );

  protected open(key: string): void {
    this.opened.update((now) => (now === key ? undefined : key));
  }
}
