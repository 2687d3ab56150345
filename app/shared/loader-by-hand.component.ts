import {ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal} from '@angular/core';
import {CLOCK, sleep} from '../bench/page-clock';
import {BenchStore} from '../state/bench.store';
import {FleetStore} from '../state/fleet.store';
import {ShelfStore} from '../state/shelf.store';
import {StandInStore} from '../state/stand-in.store';

/** A board in its loader is looked for this often, and as long as this, ms. */
const [lookEveryMs, withinMs] = [2_000, 60_000];

/** The way into a flight controller's loader by its button or pads, for one whose firmware does not answer. */
@Component({
  selector: 'bx-loader-by-hand',
  template: `
    <div class="hand" role="group" aria-labelledby="loader-by-hand">
      <b id="loader-by-hand">If its firmware does not answer: start its loader by hand</b>
      <div class="two">
        @if (board(); as board) {
          <svg
            viewBox="0 0 120 120"
            role="img"
            [attr.aria-label]="
              'The ' +
              board.name +
              ' from above, its ' +
              (board.byHand === 'button' ? 'button' : 'two pads') +
              ' marked'
            "
          >
            <rect x="6" y="6" width="108" height="108" rx="6" />
            <path d="M54 18 60 8 66 18Z" class="nose" />
            <text x="60" y="70" text-anchor="middle">{{ board.silkscreen }}</text>
            @if (board.byHand === 'button') {
              <circle [attr.cx]="board.at.x * 120" [attr.cy]="board.at.y * 120" r="7" class="mark" />
            } @else {
              <rect
                [attr.x]="board.at.x * 120 - 11"
                [attr.y]="board.at.y * 120 - 4"
                width="9"
                height="8"
                class="mark"
              />
              <rect [attr.x]="board.at.x * 120 + 2" [attr.y]="board.at.y * 120 - 4" width="9" height="8" class="mark" />
            }
          </svg>
        }
        <ol>
          <li>Pull the cable.</li>
          <li>
            {{ board()?.byHand === 'pads' ? 'Bridge the two pads that are marked' : 'Hold the button that is marked' }}.
          </li>
          <li>Plug the cable in, then let go.</li>
        </ol>
      </div>
      @if (waiting()) {
        <p role="status">
          Waiting for its loader, {{ leftS() }} s left.
          <button type="button" class="link" (click)="stop()">Stop</button>
        </p>
      } @else {
        @if (timedOut()) {
          <p role="status">
            <span class="tag diff">no loader</span> None answered within a minute. Try another cable, without a hub, and
            hold the button until after it is plugged in.
          </p>
        }
        <button type="button" class="btn" (click)="wait()">I do that now: wait for it</button>
        @if (standIn.isPresent()) {
          <button type="button" class="btn" (click)="plugIn()">Plug the simulated cable in with it held</button>
        }
      }
    </div>
  `,
  styles: `
    .hand {
      border: 1px solid var(--rule);
      background: var(--tint);
      padding: var(--s5) var(--s6);
      margin: var(--s5) 0;
      font-size: var(--fs-body);
      max-width: 640px;
    }
    .two {
      display: flex;
      gap: var(--s8);
      align-items: center;
      padding: var(--s4) 0;
    }
    svg {
      width: 120px;
      flex: none;
    }
    rect {
      fill: var(--sheet);
      stroke: var(--ink-2);
    }
    .nose {
      fill: var(--ink-2);
    }
    .mark {
      fill: var(--copper);
      stroke: none;
    }
    text {
      fill: var(--ink-2);
      font: var(--fs-note) var(--mono);
    }
    ol {
      padding-left: var(--s7);
    }
    .btn + .btn {
      margin-left: var(--s3);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LoaderByHandComponent {
  private readonly bench = inject(BenchStore);
  private readonly fleet = inject(FleetStore);
  private readonly shelf = inject(ShelfStore);
  private readonly clock = inject(CLOCK);
  protected readonly standIn = inject(StandInStore);

  protected readonly board = computed(() =>
    this.shelf.catalogue()?.controllers?.boards.find((b) => b.name === this.fleet.current()?.controllerBoard),
  );
  protected readonly waiting = signal(false);
  protected readonly timedOut = signal(false);
  protected readonly leftS = signal(0);

  constructor() {
    inject(DestroyRef).onDestroy(() => this.stop());
  }

  protected stop(): void {
    this.waiting.set(false);
  }

  /** Tries the port again and again until something answers. */
  protected async wait(): Promise<void> {
    const craftId = this.fleet.currentId();
    if (craftId === undefined) return;
    this.waiting.set(true);
    this.timedOut.set(false);
    const until = this.clock.now() + withinMs;
    while (this.waiting() && this.clock.now() < until) {
      this.leftS.set(Math.round((until - this.clock.now()) / 1000));
      await this.bench.connectAndSurvey(craftId);
      if (this.bench.isConnected()) return this.stop();
      await sleep(this.clock, lookEveryMs);
    }
    this.timedOut.set(this.waiting());
    this.stop();
  }

  protected async plugIn(): Promise<void> {
    await this.standIn.plugInByHand();
    const craftId = this.fleet.currentId();
    if (craftId !== undefined) await this.bench.connectAndSurvey(craftId);
  }
}
