import {ChangeDetectionStrategy, Component, inject} from '@angular/core';
import {BenchStore} from '../state/bench.store';
import {ProblemComponent} from './problem.component';

/** What a station shows while it lacks the bench or a survey: what is missing, and the way to get it. */
@Component({
  selector: 'bx-connect',
  imports: [ProblemComponent],
  template: `
    @if (bench.problem(); as problem) {
      <bx-problem [problem]="problem" closable (closed)="bench.clearProblem()" />
    }
    <div class="empty">
      @if (!bench.isConnected()) {
        <b>The bench is not connected.</b>
        <p>
          A simulated bench ships with Bidex: Juniper's four ESCs, flight controller and motors behind a cable. It
          behaves like hardware and forgets nothing.
        </p>
        <button
          type="button"
          class="btn full big"
          [disabled]="bench.status() === 'connecting'"
          (click)="bench.connect()"
        >
          Connect the simulated bench
        </button>
      } @else if (bench.surveying(); as at) {
        <b>Surveying: {{ at.text }}</b>
        <p>Identity, settings and page checksums of every ESC, then the flight controller.</p>
        <div class="bar" role="progressbar" [attr.aria-valuenow]="at.share * 100" aria-label="Survey">
          <i [style.width.%]="at.share * 100"></i>
        </div>
      } @else if (!bench.isPowered()) {
        <b>The battery is off.</b>
        <p>ESCs are silent without their own power: USB does not power them. Connect the battery, then survey.</p>
      } @else {
        <b>Nothing was surveyed yet.</b>
        <p>A survey asks every ESC and the flight controller who they are and what they hold. It writes nothing.</p>
        <button type="button" class="btn full big" [disabled]="bench.occupied()" (click)="bench.survey()">
          Survey the bench
        </button>
      }
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConnectComponent {
  protected readonly bench = inject(BenchStore);
}
