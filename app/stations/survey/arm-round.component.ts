import {ChangeDetectionStrategy, Component, inject, signal} from '@angular/core';
import {surveyRound} from '@core/sheets/survey/survey-round';
import {ProblemComponent} from '../../shared/problem.component';
import {WiringCardComponent} from '../../shared/wiring-card.component';
import {BenchStore} from '../../state/bench.store';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FleetStore} from '../../state/fleet.store';
import {StandInStore} from '../../state/stand-in.store';

/** The guided round of a single-wire adapter: which arm is next, what was read, what stood in the way. */
@Component({
  selector: 'bx-arm-round',
  imports: [ProblemComponent, WiringCardComponent],
  template: `
    @if (round(); as list) {
      <h2>{{ list.title }}</h2>
      @if (bench.problemOf(craft()?.id); as problem) {
        <bx-problem [problem]="problem" closable (closed)="bench.clearProblem()" />
      }
      <ol>
        @for (arm of list.arms; track arm.output) {
          <li [class]="arm.state" [attr.aria-current]="arm.state === 'next' ? 'step' : null">
            <em class="n">{{ arm.output + 1 }}</em>
            <div class="who">
              <b>{{ arm.name }}</b>
              <span>{{ arm.text }}</span>
            </div>
            @if (list.waits && reading() === arm.output) {
              <div class="do" role="status">
                <span>{{ list.waits }}</span>
                <button type="button" class="btn" (click)="bench.stopWaiting()">Stop waiting</button>
              </div>
            } @else if (bench.surveying() && reading() === arm.output) {
              <div class="bar" role="progressbar" [attr.aria-label]="'Reading ' + arm.place">
                <i [style.width.%]="(bench.surveying()?.share ?? 0) * 100"></i>
              </div>
            } @else {
              <div class="do">
                @if (!standIn.isPresent() || standIn.clippedTo() === arm.output) {
                  @if (standIn.isPresent()) {
                    <span class="tag plan">adapter is here</span>
                  }
                  <button
                    type="button"
                    class="btn"
                    [class.full]="arm.state === 'next'"
                    [disabled]="bench.occupied()"
                    (click)="readArm(arm.output)"
                  >
                    {{ arm.state === 'read' ? 'Read again' : 'Read ' + arm.place }}
                  </button>
                } @else if (arm.state === 'next') {
                  <button type="button" class="btn full" [disabled]="bench.occupied()" (click)="clip(arm.output)">
                    Clip the simulated adapter to {{ arm.place }}
                  </button>
                } @else {
                  <button type="button" class="link" [disabled]="bench.occupied()" (click)="clip(arm.output)">
                    clip here
                  </button>
                }
              </div>
            }
          </li>
        }
      </ol>
      <bx-wiring-card />
      @if (list.read === list.arms.length) {
        <p class="quiet">All arms are read. The docket has the order of the round; it needs each arm again.</p>
      }
    }
  `,
  styles: `
    ol {
      list-style: none;
      padding: 0;
      font-size: var(--fs-body);
    }
    li {
      display: grid;
      grid-template-columns: 30px 1fr minmax(330px, auto);
      align-items: center;
      gap: var(--s6);
      min-height: 46px;
      border-bottom: 1px solid var(--rule-2);
      padding: var(--s2) var(--s4);
    }
    li.next {
      background: var(--ochre-soft);
    }
    em {
      font-style: normal;
      font-size: var(--fs-base);
    }
    .who b,
    .who span {
      display: block;
    }
    .who span {
      color: var(--ink-2);
      font-size: var(--fs-note);
    }
    .trouble .who span {
      color: var(--copper);
    }
    .do {
      display: flex;
      gap: var(--s5);
      align-items: center;
      justify-content: flex-end;
    }
    p {
      padding-top: var(--s4);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ArmRoundComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly craft = inject(FleetStore).current;
  /** Arm that was read last, or is being read. */
  protected readonly reading = signal<number | undefined>(undefined);
  protected readonly round = inject(CraftQuestionStore).sheet((q) =>
    surveyRound(q, {waitingS: this.bench.waitingS(), nobodyCame: this.bench.nobodyCame()}),
  );

  /** The simulated adapter is clipped on, then the ESC read: on a real bench a person clips and presses Read. */
  protected async clip(output: number): Promise<void> {
    await this.standIn.clip(output);
    await this.readArm(output);
  }

  protected readArm(output: number): Promise<void> {
    this.reading.set(output);
    return this.bench.surveyArm(output, this.round()!.arms.length);
  }
}
