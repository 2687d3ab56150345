import {ChangeDetectionStrategy, Component, inject} from '@angular/core';
import {BenchStore} from '../state/bench.store';

/** Asks once per power-up that the propellers are off, and says it all the time. */
@Component({
  selector: 'bx-props-off',
  template: `
    <div class="gate">
      <b>Before power reaches the motors</b>
      @if (!bench.isConnected()) {
        The bench is not connected.
      } @else if (!bench.isPowered()) {
        The battery is off. ESCs are silent without it: USB does not power them.
      } @else if (bench.propsOff()) {
        <span class="tag ok">✓ props off</span> confirmed for this power-up · battery
        <span class="n">{{ bench.power()!.volts.toFixed(1) }} V</span>
      } @else {
        <span class="tag wait">not confirmed</span> Take the propellers off. First power-up through a current limiter.
        <button type="button" class="btn" (click)="bench.confirmPropsOff()">Propellers are off</button>
      }
    </div>
  `,
  styles: '.btn { margin-top: var(--s4); width: 100%; }',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PropsOffComponent {
  protected readonly bench = inject(BenchStore);
}
