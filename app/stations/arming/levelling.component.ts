import {ChangeDetectionStrategy, Component, inject} from '@angular/core';
import {LevellingStore} from './levelling.store';

/** Whether what the accelerometer takes for level is level: measured at rest, set by offsets, measured again. */
@Component({
  selector: 'bx-levelling',
  providers: [LevellingStore],
  template: `
    @if (levelling.sheet(); as sheet) {
      <div class="ask apart">
        <h4>Level the accelerometer</h4>
        <p>{{ sheet.why }} Put the craft on a level bench, and check that with a bubble level across its motors.</p>
        @if (sheet.asked) {
          <p class="now" aria-live="polite">{{ sheet.asked }}</p>
          <button type="button" class="link" (click)="levelling.stop()">Stop</button>
        } @else {
          <button type="button" class="btn" [disabled]="!sheet.begin.isOpen" (click)="levelling.begin()">
            {{ sheet.begin.title }}
          </button>
        }
      </div>
      @if (sheet.verdict; as verdict) {
        <div class="gate" [class.bad]="!verdict.holds" role="status">
          <b>{{ verdict.title }}</b>{{ verdict.text }}
        </div>
      }
      @if (sheet.offer; as offer) {
        <p>
          <button type="button" class="btn full" (click)="levelling.plan(offer.edits)">{{ offer.text }}</button>
        </p>
      }
      @if (sheet.offsets.length) {
        <table class="plain">
          <caption class="quiet small">
            What the flight controller takes off: forward, right, down
          </caption>
          <tbody>
            @for (offset of sheet.offsets; track offset.name) {
              <tr>
                <td class="what">{{ offset.name }}</td>
                <td>
                  <span class="n">{{ offset.text }}</span>
                  @if (!offset.isSet) {
                    <span class="tag wait">the work order sets it</span>
                  }
                </td>
              </tr>
            }
          </tbody>
        </table>
      }
    }
  `,
  styleUrl: './arming-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LevellingComponent {
  protected readonly levelling = inject(LevellingStore);
}
