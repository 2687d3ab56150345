import {ChangeDetectionStrategy, Component, signal} from '@angular/core';
import {playTones, signalTones, startTones} from './tones';

/** What ESCs sound after power-up, in words and to hear. */
@Component({
  selector: 'bx-sounds',
  template: `
    <p>
      <b>Listen:</b> three rising tones say that an ESC has power and runs its firmware; two more that it receives the
      throttle signal. An ESC in its bootloader stays silent after the first part, or altogether.
    </p>
    <button type="button" class="link" [disabled]="playing()" (click)="play(true)">Play all five</button>
    ·
    <button type="button" class="link" [disabled]="playing()" (click)="play(false)">Play the first three</button>
  `,
  styles: `
    :host {
      display: block;
      font-size: var(--fs-note);
      padding: var(--s3) 0;
    }
    p {
      color: var(--ink-2);
      padding-bottom: var(--s2);
    }
    b {
      display: inline !important;
      color: var(--ink);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SoundsComponent {
  protected readonly playing = signal(false);

  protected async play(all: boolean): Promise<void> {
    this.playing.set(true);
    await playTones(all ? [startTones, signalTones] : [startTones]);
    this.playing.set(false);
  }
}
