import {ChangeDetectionStrategy, Component, input} from '@angular/core';

const [lowUs, highUs] = [880, 2120];

/** A pulse on its way from 900 to 2100 µs, with the ends and the centre that a controller expects, and a range on it. */
@Component({
  selector: 'bx-channel-strip',
  template: `
    <svg viewBox="0 0 400 20" preserveAspectRatio="none" aria-hidden="true">
      <rect class="track" x="0" y="9" width="400" height="2" />
      @if (range(); as range) {
        <rect
          class="span"
          [class.on]="isOn()"
          [attr.x]="at(range.fromUs)"
          y="3"
          [attr.width]="at(range.toUs) - at(range.fromUs)"
          height="14"
        />
      }
      @for (tick of ticks; track tick) {
        <line class="tick" [attr.x1]="at(tick)" [attr.x2]="at(tick)" y1="3" y2="17" />
      }
      @if (us(); as us) {
        <rect class="dot" [attr.x]="at(us) - 2.5" y="1" width="5" height="18" />
      }
    </svg>
  `,
  styles: `
    svg {
      width: 100%;
      height: 20px;
      display: block;
    }
    .track {
      fill: var(--rule-2);
    }
    .span {
      fill: var(--petrol-soft);
      stroke: var(--petrol);
    }
    .span.on {
      stroke-width: 3;
    }
    .dot {
      fill: var(--ink);
    }
    .tick {
      stroke: var(--edge);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChannelStripComponent {
  /** Undefined while nothing comes. */
  readonly us = input.required<number | undefined>();
  /** In which a switch does what it is for. */
  readonly range = input<{readonly fromUs: number; readonly toUs: number}>();
  readonly isOn = input(false);
  protected readonly ticks = [1000, 1500, 2000];

  protected at(us: number): number {
    return (400 * (Math.max(lowUs, Math.min(highUs, us)) - lowUs)) / (highUs - lowUs);
  }
}
