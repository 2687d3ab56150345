import {ChangeDetectionStrategy, Component, inject, input} from '@angular/core';
import type {IdleLine} from '@core/sheets/spin/motor-card';
import {FleetStore} from '../../state/fleet.store';

/** The idle that measured starts ask for, with where it comes from; planned with one press. */
@Component({
  selector: 'bx-suggested-idle',
  template: `
    <div class="gate">
      <b>{{ idle().title }}</b>
      {{ idle().text }}
      @if (!idle().isPlanned) {
        <button type="button" class="link" (click)="fleet.setController({idlePercent: idle().percent})">
          Plan {{ idle().percent.toFixed(1) }} %
        </button>
      }
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SuggestedIdleComponent {
  protected readonly fleet = inject(FleetStore);
  readonly idle = input.required<IdleLine>();
}
