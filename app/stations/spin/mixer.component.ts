import {ChangeDetectionStrategy, Component, inject, signal} from '@angular/core';
import {centredSticks, mixerFile, mixerOfText, mixerSheet, type MixerAxis} from '@core/sheets/craft/mixer';
import {withPlannedSettings, type SettingEdits} from '@core/sheets/parameters/held-settings';
import {download} from '../../shared/download';
import {pickedFiles} from '../../shared/picked-files';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FleetStore} from '../../state/fleet.store';

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
    label.stick {
      display: grid;
      grid-template-columns: 150px minmax(0, 1fr) 60px;
      gap: var(--s4);
      align-items: center;
      min-height: 36px;
      font-size: var(--fs-body);
    }
    label.stick small {
      display: block;
    }
    label.stick .n {
      text-align: right;
    }
    .acts {
      margin: var(--s4) 0;
      display: flex;
      flex-wrap: wrap;
      gap: var(--s4);
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
  private readonly fleet = inject(FleetStore);
  private readonly sticks = signal(centredSticks);
  /** Why the file that was opened plans no mixer. */
  protected readonly refused = signal('');
  protected readonly sheet = this.questions.sheet((q) => mixerSheet(q, this.sticks()));

  protected letGo(): void {
    this.sticks.set(centredSticks);
  }

  protected move(axis: MixerAxis, event: Event): void {
    const value = (event.target as HTMLInputElement).valueAsNumber / 100;
    this.sticks.update((s) => ({...s, [axis]: value}));
  }

  protected plan(edits: SettingEdits): void {
    const q = this.questions.judged()!;
    this.refused.set('');
    this.fleet.edit((craft) => withPlannedSettings(craft, q, edits));
  }

  protected async open(event: Event): Promise<void> {
    const [file] = pickedFiles(event);
    if (!file) return;
    const read = mixerOfText(this.questions.judged()!, await file.text());
    if ('why' in read) this.refused.set(`${file.name}: ${read.why}`);
    else this.plan(read.edits);
  }

  protected save(): void {
    const {name, text} = mixerFile(this.questions.judged()!);
    download(name, text, 'text/csv');
  }
}
