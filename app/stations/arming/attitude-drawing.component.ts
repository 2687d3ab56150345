import {ChangeDetectionStrategy, Component, input} from '@angular/core';
import type {AttitudeShape} from '@core/sheets/arming/mounting';

/** The craft as it is held now, seen from behind: arms, propeller discs, nose, and the level it is held against. */
@Component({
  selector: 'bx-attitude-drawing',
  template: `
    <svg viewBox="0 0 300 262" role="img" [attr.aria-label]="shape().label">
      <path class="level" [attr.d]="shape().level" />
      <line class="level" x1="8" y1="150" x2="292" y2="150" />
      @for (arm of shape().arms; track $index) {
        <path class="disc" [class.front]="arm.isFront" [attr.d]="arm.disc" />
        <line class="arm" [class.front]="arm.isFront" x1="150" y1="150" [attr.x2]="arm.at.x" [attr.y2]="arm.at.y" />
      }
      @if (shape().nose) {
        <path class="nose" [attr.d]="shape().nose" />
        @for (side of shape().sides; track side.name) {
          <text [attr.x]="side.at.x" [attr.y]="side.at.y + 4" text-anchor="middle">{{ side.name }}</text>
        }
      } @else {
        <text x="150" y="120" text-anchor="middle">nothing is measured</text>
      }
    </svg>
  `,
  styles: `
    svg {
      width: 100%;
      max-width: 420px;
      display: block;
      background: var(--sheet);
      border: 1px solid var(--rule);
    }
    .level {
      fill: none;
      stroke: var(--edge);
      stroke-dasharray: 3 4;
    }
    .disc {
      fill: var(--tint);
      stroke: var(--ink-2);
    }
    .disc.front {
      fill: var(--petrol-soft);
      stroke: var(--petrol);
    }
    .arm {
      stroke: var(--ink-2);
      stroke-width: 4;
    }
    .arm.front {
      stroke: var(--petrol);
    }
    .nose {
      fill: var(--petrol);
    }
    text {
      fill: var(--ink-2);
      font: var(--fs-note) var(--sans);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AttitudeDrawingComponent {
  readonly shape = input.required<AttitudeShape>();
}
