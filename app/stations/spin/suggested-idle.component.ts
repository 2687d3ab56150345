import {ChangeDetectionStrategy, Component, computed, inject, input} from '@angular/core';
import type {SuggestedIdle} from '@core/spin/suggested-idle';
import {when} from '../../shared/when';
import {FleetStore} from '../../state/fleet.store';

/** The idle that measured starts ask for, with where it comes from; planned with one press. */
@Component({
  selector: 'bx-suggested-idle',
  template: `
    <div class="gate">
      <b
        >Motor {{ idle().motor + 1 }} starts last: {{ idle().startUs.toFixed(0) }} µs{{
          idle().isBound ? ' at most' : ''
        }}</b
      >
      {{
        idle().isBound
          ? '19 of 20 starts lie below it.'
          : 'Hold each motor for three pulses or more: the scatter of its starts then gives a bound.'
      }}
      Measured {{ idle().from === 'holds' ? 'while each motor was held' : 'by the motor card' }}, {{ at() }}. With 15 µs
      of margin the idle is {{ idle().percent.toFixed(1) }} %, {{ idle().pulseUs.toFixed(0) }} µs; planned is
      {{ planned() }} %.
      @if (idle().percent !== planned()) {
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
  readonly idle = input.required<SuggestedIdle>();
  protected readonly at = computed(() => when(this.idle().at));
  protected readonly planned = computed(() => this.fleet.current()!.plan.controller.idlePercent);
}
