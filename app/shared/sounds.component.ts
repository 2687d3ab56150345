import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {startSounds, type StartTones} from '@core/sheets/sounds/start-sounds';
import {CraftQuestionStore} from '../state/craft-question.store';
import {playTones} from './tones';

/** What ESCs sound after power-up, in words and to hear. */
@Component({
  selector: 'bx-sounds',
  template: `
    @for (sound of sounds(); track sound.of) {
      <p>
        <b>{{ sound.of || 'Listen' }}:</b> {{ sound.text }}
      </p>
      <button type="button" class="link" [disabled]="playing()" (click)="play([sound.tones.power, sound.tones.signal])">
        Play all of them
      </button>
      ·
      <button type="button" class="link" [disabled]="playing()" (click)="play([sound.tones.power])">
        Play the first part
      </button>
    }
    <p>An ESC in its bootloader stays silent after the first part, or altogether.</p>
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
  private readonly judged = inject(CraftQuestionStore).judged;
  protected readonly sounds = computed(() => startSounds(this.judged()));
  protected readonly playing = signal(false);

  protected async play(parts: readonly StartTones['power'][]): Promise<void> {
    this.playing.set(true);
    await playTones(parts);
    this.playing.set(false);
  }
}
