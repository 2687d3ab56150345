import {ChangeDetectionStrategy, Component, effect, inject, signal, untracked} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import {Textarea} from 'primeng/textarea';
import type {Melody} from '@core/sheets/parameters/sounds';
import {pickedFiles} from '../../shared/picked-files';
import {ProblemComponent} from '../../shared/problem.component';
import {SoundsComponent} from '../../shared/sounds.component';
import {typicalTones} from '@core/sheets/sounds/start-sounds';
import {lostTone, playTones, tonesOf} from '../../shared/tones';
import {FileInbox} from '../../state/file-inbox';
import {SoundsStore} from '../../state/spin/sounds.store';
import {MelodyRollComponent} from './melody-roll.component';

/** Sounds: the start-up melody, how loud tones are, and the tone of a lost craft, tried on the bench. */
@Component({
  selector: 'bx-sounds-view',
  imports: [FormsModule, SelectButton, Textarea, MelodyRollComponent, ProblemComponent, SoundsComponent],
  providers: [SoundsStore],
  templateUrl: './sounds-view.component.html',
  styleUrl: './sounds-view.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SoundsViewComponent {
  protected readonly sounds = inject(SoundsStore);
  private readonly inbox = inject(FileInbox);
  protected readonly playing = signal(false);
  protected readonly kinds = [
    {label: 'one for all', value: 'same'},
    {label: 'a voice per motor', value: 'per motor'},
  ];

  constructor() {
    effect(() => {
      if (this.inbox.has('melody')) untracked(() => void this.sounds.open(this.inbox.takeAll('melody')));
    });
  }

  protected async pick(event: Event): Promise<void> {
    await this.sounds.open(pickedFiles(event));
  }

  protected async play(melody: Melody | undefined): Promise<void> {
    if (!melody || this.playing()) return;
    this.playing.set(true);
    await playTones([tonesOf(melody)], {gapMs: 0});
    this.playing.set(false);
  }

  /** Lets a motor sound as its ESC is set; a stand-in is heard through the loudspeaker of this computer. */
  protected async sound(output: number, kind: 'usual' | 'lost-craft', loudness: number | undefined): Promise<void> {
    const isStandIn = await this.sounds.sound(output, kind);
    if (isStandIn && loudness !== undefined)
      await playTones([kind === 'usual' ? typicalTones.power.slice(0, 1) : lostTone], {loudness});
  }
}
