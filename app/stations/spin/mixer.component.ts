import {ChangeDetectionStrategy, Component, inject, signal} from '@angular/core';
import {centredSticks, mixerFile, mixerSheet, type MixerAxis} from '@core/sheets/craft/mixer';
import {download} from '../../shared/download';
import {CraftQuestionStore} from '../../state/craft-question.store';

/** Mixer of the craft's airframe: what each motor does about each axis, tried with sticks. */
@Component({
  selector: 'bx-mixer',
  templateUrl: './mixer.component.html',
  styles: `
    .cols {
      display: grid;
      grid-template-columns: minmax(480px, 1.35fr) minmax(300px, 1fr);
      gap: var(--s8);
    }
    caption {
      text-align: left;
      font-size: var(--fs-note);
    }
    th.n,
    td.n {
      text-align: right;
    }
    th.n {
      font-family: var(--sans);
    }
    .sum td {
      border-top: 1px solid var(--ink-3);
    }
    label {
      display: grid;
      grid-template-columns: 150px minmax(0, 1fr) 60px;
      gap: var(--s4);
      align-items: center;
      min-height: 36px;
      font-size: var(--fs-body);
    }
    label small {
      display: block;
    }
    label .n {
      text-align: right;
    }
    input {
      accent-color: var(--petrol);
      min-height: 32px;
    }
    svg {
      display: block;
      width: 100%;
      max-height: 290px;
    }
    .arm {
      stroke: var(--ink-3);
      stroke-width: 2;
    }
    .ring {
      fill: var(--paper);
      stroke: var(--ink-2);
    }
    .fill {
      fill: var(--petrol-soft);
      stroke: var(--petrol);
    }
    .nose {
      fill: var(--ink);
    }
    text {
      text-anchor: middle;
      font: 600 var(--fs-body) var(--mono);
      fill: var(--ink);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MixerComponent {
  private readonly questions = inject(CraftQuestionStore);
  /** The area of a disc, not its width, goes with the throttle. */
  protected readonly root = Math.sqrt;
  private readonly sticks = signal(centredSticks);
  protected readonly sheet = this.questions.sheet((q) => mixerSheet(q, this.sticks()));

  protected letGo(): void {
    this.sticks.set(centredSticks);
  }

  protected move(axis: MixerAxis, event: Event): void {
    const value = (event.target as HTMLInputElement).valueAsNumber / 100;
    this.sticks.update((s) => ({...s, [axis]: value}));
  }

  protected save(): void {
    const {name, text} = mixerFile(this.questions.judged()!);
    download(name, text, 'text/csv');
  }
}
