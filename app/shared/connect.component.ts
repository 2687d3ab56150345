import {ChangeDetectionStrategy, Component, inject} from '@angular/core';
import {BenchMenuDoor} from '../bench/bench-menu-door';
import {BenchStore} from '../state/bench.store';
import {FleetStore} from '../state/fleet.store';
import {StandInStore} from '../state/stand-in.store';
import {connectText} from './connect-text';
import {LoaderByHandComponent} from './loader-by-hand.component';
import {ProblemComponent} from './problem.component';
import {WiringCardComponent} from './wiring-card.component';

/** What a station shows while it lacks the bench or a survey: what is missing, and the way to get it. */
@Component({
  selector: 'bx-connect',
  imports: [LoaderByHandComponent, ProblemComponent, WiringCardComponent],
  template: `
    @if (bench.problemOf(craftId()); as problem) {
      <bx-problem [problem]="problem" closable (closed)="bench.clearProblem()" />
      @if (problem.code === 'held-elsewhere') {
        <button type="button" class="btn" (click)="bench.takeOver(craftId())">Take the bench over here</button>
      }
      @if (problem.code === 'unanswered' && !bench.isConnected()) {
        <bx-loader-by-hand />
      }
    }
    <div class="empty">
      @if (!bench.isConnected()) {
        <b>The bench is not connected.</b>
        @if (standIn.isPresent()) {
          <p>
            A simulated bench ships with Bidex for every craft of the demo: its ESCs, flight controller and motors
            behind a cable. It behaves like hardware and forgets nothing.
          </p>
        } @else {
          <p>Plug the flight controller in, or an adapter on the signal wire of one ESC.</p>
        }
        <button
          type="button"
          class="btn full big"
          [disabled]="bench.status() === 'connecting'"
          (click)="bench.connectAndSurvey(craftId())"
        >
          {{ connectText(standIn.isPresent()) }}
        </button>
        <p>
          <button type="button" class="link" (click)="menu.craftId.set(craftId())">
            Connect in another way, or get help
          </button>
        </p>
      } @else if (bench.surveying(); as at) {
        <b>Surveying: {{ at.text }}</b>
        <p>Identity, settings and the pages of every ESC, then the flight controller.</p>
        <div class="bar" role="progressbar" [attr.aria-valuenow]="at.share * 100" aria-label="Survey">
          <i [style.width.%]="at.share * 100"></i>
        </div>
      } @else if (!bench.isPowered()) {
        <b>The battery is off.</b>
        <p>ESCs are silent without their own power: USB does not power them. Connect the battery, then survey.</p>
      } @else if (bench.onAdapter()) {
        <b>The cable is on a single-wire adapter.</b>
        <p>It reaches one ESC at a time. The Survey station leads round the arms.</p>
      } @else {
        <b>Nothing was surveyed yet.</b>
        <p>A survey asks every ESC and the flight controller who they are and what they hold. It writes nothing.</p>
        <button type="button" class="btn full big" [disabled]="bench.occupied()" (click)="bench.survey()">
          Survey the bench
        </button>
      }
    </div>
    @if (!bench.surveying()) {
      <bx-wiring-card />
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConnectComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly menu = inject(BenchMenuDoor);
  protected readonly connectText = connectText;
  private readonly fleet = inject(FleetStore);

  protected craftId(): string {
    return this.fleet.current()?.id ?? '';
  }
}
