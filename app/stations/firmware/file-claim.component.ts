import {ChangeDetectionStrategy, Component, inject, input, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {InputText} from 'primeng/inputtext';
import type {ClaimableFile} from '@core/sheets/firmware/firmware-cards';
import {FleetStore} from '../../state/fleet.store';
import {ClaimByNameComponent} from './claim-by-name.component';

/** An own file that is planned only by what a person says of it: why, by typed name, and who. */
@Component({
  selector: 'bx-file-claim',
  imports: [ClaimByNameComponent, FormsModule, InputText],
  template: `
    <details>
      <summary>
        <b class="mono">{{ file().name }}</b> {{ file().why }} It is refused unless you know better.
      </summary>
      <div class="gate bad">
        Nothing in this file confirms that it fits: a wrong image burns the bridge at the first spin.
        <label
          >Why it belongs on this board<input
            pInputText
            maxlength="400"
            placeholder="where it comes from, and what you compared"
            [ngModel]="why()"
            (ngModelChange)="why.set($event)"
        /></label>
        @if (why().trim().length > 7) {
          <bx-claim-by-name [board]="file().board" (confirmed)="plan($event)" />
        }
      </div>
    </details>
  `,
  styles: `
    summary {
      padding: var(--s3) 0;
      font-size: var(--fs-note);
      cursor: pointer;
    }
    label {
      display: grid;
      gap: var(--s2);
      padding-top: var(--s4);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FileClaimComponent {
  readonly file = input.required<ClaimableFile>();
  private readonly fleet = inject(FleetStore);
  protected readonly why = signal('');

  protected plan(by: string): void {
    this.fleet.setFirmware({...this.file().firmware, claim: {by, why: this.why().trim(), at: Date.now()}});
  }
}
