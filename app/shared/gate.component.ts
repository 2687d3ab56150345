import {
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
} from '@angular/core';
import type {GateLine} from '@core/spin/hold/gate';
import {BenchStore} from '../state/bench.store';
import {clockTime} from '@core/words/moment';

/** The one gate before anything turns: what is right, since when, and what waits for a hand. */
@Component({
  selector: 'bx-gate',
  template: `
    <div class="gate" role="group" aria-labelledby="gate-title">
      <b id="gate-title">Before power reaches the motors</b>
      <ul [class.open]="isOpen()">
        @for (line of lines(); track line.what) {
          <li>
            <span [class]="'mark ' + line.state" aria-hidden="true">{{ marks[line.state] }}</span>
            <span class="visually-hidden">{{ spoken[line.state] }}: </span>
            <span
              >{{ line.text }}
              @if (line.since) {
                <span class="quiet">since {{ when(line.since) }}</span>
              }
            </span>
          </li>
        }
      </ul>
      @if (asks()) {
        <button type="button" class="btn" (click)="bench.confirmPropsOff()">Propellers are off</button>
      }
    </div>
  `,
  styles: `
    ul {
      list-style: none;
      padding: var(--s2) 0 0;
    }
    li {
      display: grid;
      grid-template-columns: 16px 1fr;
      padding: 1px 0;
    }
    .open .mark {
      padding-right: var(--s1);
    }
    .open li {
      display: inline;
      padding-right: var(--s4);
    }
    .right {
      color: var(--moss);
    }
    .ask {
      color: var(--ochre-ink);
    }
    .wrong {
      color: var(--copper);
    }
    .mark {
      font-weight: 650;
    }
    .btn {
      margin-top: var(--s4);
      width: 100%;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GateComponent {
  protected readonly bench = inject(BenchStore);
  /** The work order shows it: the wires are its own. */
  readonly withinOrder = input(false, {transform: booleanAttribute});
  protected readonly when = clockTime;
  protected readonly marks = {right: '✓', ask: '?', wrong: '✗'} as const;
  protected readonly spoken = {right: 'right', ask: 'to be confirmed', wrong: 'not right'} as const;
  private readonly asked = computed(() =>
    this.bench.gate().filter((l) => !(this.withinOrder() && l.what === 'wires' && this.bench.isConnected())),
  );
  /** While something is held they stay as they stood before it: a line more would move what a finger holds. */
  protected readonly lines = linkedSignal<{isHeld: boolean; now: readonly GateLine[]}, readonly GateLine[]>({
    source: () => ({isHeld: this.bench.turning(), now: this.asked()}),
    computation: ({isHeld, now}, before) => (isHeld && before ? before.value : now),
  });
  protected readonly isOpen = computed(() => this.lines().every((l) => l.state === 'right'));
  /** The propellers are all that is left to confirm. */
  protected readonly asks = computed(() => {
    const lines = this.lines();
    return lines.some((l) => l.state === 'ask') && !lines.some((l) => l.state === 'wrong');
  });
}
