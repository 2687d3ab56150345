import {ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import {Textarea} from 'primeng/textarea';
import {plannedMelody, type Craft} from '@core/craft/craft';
import {ProblemError, type Problem} from '@core/problem';
import {ownMelody} from '@core/settings/parameters/special-values';
import {valueIn} from '@core/settings/page';
import {codableMelody, keepsMelody, melodyIn, melodyLimits, melodyText} from '@core/sounds/melody-block';
import {readRtttl, type Melody} from '@core/sounds/rtttl';
import {ProblemComponent} from '../../shared/problem.component';
import {SoundsComponent} from '../../shared/sounds.component';
import {lostTone, playTones, startTones, tonesOf} from '../../shared/tones';
import {BenchStore} from '../../state/bench.store';
import {pickedFiles} from '../../shared/picked-files';
import {FileInbox} from '../../state/file-inbox';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {MelodyRollComponent} from './melody-roll.component';

/** What a new melody begins with: three notes that rise, our own. */
const firstText = 'rise:d=8,o=5,b=180:c,e,g,4c6';

/** As long as the field is. */
const longestMelody = 2000;

/** A line of what ESCs keep. */
interface KeptRow {
  readonly output: number;
  readonly text: string;
  readonly state: 'as planned' | 'differs' | 'keeps none' | 'not planned';
  readonly melody: Melody | undefined;
}

/** Sounds: the start-up melody, how loud tones are, and the tone of a lost craft, tried on the bench. */
@Component({
  selector: 'bx-sounds-view',
  imports: [FormsModule, SelectButton, Textarea, MelodyRollComponent, ProblemComponent, SoundsComponent],
  templateUrl: './sounds-view.component.html',
  styleUrl: './sounds-view.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SoundsViewComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);

  protected readonly limits = melodyLimits;
  protected readonly kinds = [
    {label: 'one for all', value: 'same'},
    {label: 'a voice per motor', value: 'per motor'},
  ];
  protected readonly motors = computed(() => this.fleet.current()!.arms.map((_, m) => ({label: `${m + 1}`, value: m})));
  protected readonly motor = signal(0);
  protected readonly playing = signal(false);
  private readonly inbox = inject(FileInbox);
  /** Melodies of files that were dropped; none is planned by itself. */
  protected readonly dropped = signal<readonly {name: string; text: string}[]>([]);
  protected readonly problem = signal<Problem | undefined>(undefined);

  protected readonly kind = computed(() => this.fleet.current()!.plan.melodies?.kind ?? 'same');
  protected readonly isPlanned = computed(() => this.fleet.current()!.plan.melodies !== undefined);
  protected readonly text = computed(() => plannedMelody(this.fleet.current()!.plan, this.motor()) ?? '');
  /** What the text says, checked as it is typed; the plan takes it as it is. */
  protected readonly checked = computed(() => codableMelody(this.text()));
  protected readonly readable = computed(() => {
    const read = readRtttl(this.text());
    return read.ok ? read.value : undefined;
  });

  protected readonly kept = computed((): KeptRow[] => {
    const {plan} = this.fleet.current()!;
    return (this.record.found()?.escs ?? []).map(({output, settings, settingsPage}) => {
      const melody = melodyIn(settingsPage);
      const wanted = readRtttl(plannedMelody(plan, output) ?? '');
      const text = melodyText(melody);
      if (!keepsMelody(settings?.layout)) return {output, melody: undefined, text: '–', state: 'keeps none'};
      if (!wanted.ok) return {output, melody, text, state: 'not planned'};
      return {output, melody, text, state: text === melodyText(wanted.value) ? 'as planned' : 'differs'};
    });
  });

  /** Motors with what their ESCs are set to, to be tried. */
  protected readonly voices = computed(() =>
    this.fleet.current()!.arms.map((arm, output) => {
      const values = this.record.found()?.escs.find((e) => e.output === output)?.settings?.values;
      return {
        output,
        arm: arm.name,
        usual: values && valueIn(values, 'toneLoudness'),
        lost: values && valueIn(values, 'lostToneLoudness'),
      };
    }),
  );
  protected readonly canSound = computed(
    () => this.bench.isConnected() && this.bench.isPowered() && !this.bench.onAdapter() && !this.bench.occupied(),
  );

  constructor() {
    effect(() => {
      if (this.inbox.has('melody')) untracked(() => void this.open(this.inbox.takeAll('melody')));
    });
  }

  protected async pick(event: Event): Promise<void> {
    const files = pickedFiles(event);
    await this.open(files);
  }

  private async open(files: readonly File[]): Promise<void> {
    for (const file of files) {
      const text = (await file.text()).split(/\r?\n/).find((line) => line.trim()) ?? '';
      this.dropped.update((all) => [...all, {name: file.name, text: text.trim().slice(0, longestMelody)}]);
    }
  }

  protected useDropped({text}: {readonly text: string}): void {
    if (this.isPlanned()) this.write(text);
    else this.setMelodies({kind: 'same', text});
    this.dropped.update((all) => all.filter((d) => d.text !== text));
  }

  protected begin(): void {
    this.setMelodies({kind: 'same', text: firstText});
  }

  protected drop(): void {
    this.fleet.edit((c) => {
      const {firmware, controller, parameters} = c.plan;
      const silent: Craft['plan']['parameters'] = {...parameters, melody: {kind: 'same', value: 0}};
      return {...c, plan: {firmware, controller, parameters: silent}};
    });
  }

  protected setKind(kind: 'same' | 'per motor'): void {
    const craft = this.fleet.current()!;
    const text = plannedMelody(craft.plan, 0) ?? firstText;
    if (kind === this.kind()) return;
    this.setMelodies(kind === 'same' ? {kind, text} : {kind, texts: craft.arms.map(() => text)});
    this.motor.set(0);
  }

  protected write(text: string): void {
    const {melodies} = this.fleet.current()!.plan;
    if (melodies?.kind !== 'per motor') return this.setMelodies({kind: 'same', text});
    this.setMelodies({kind: 'per motor', texts: melodies.texts.map((t, m) => (m === this.motor() ? text : t))});
  }

  /** A melody of one's own is played by ESCs that are told to play it. */
  private setMelodies(melodies: NonNullable<Craft['plan']['melodies']>): void {
    this.fleet.edit((c) => ({
      ...c,
      plan: {...c.plan, melodies, parameters: {...c.plan.parameters, melody: {kind: 'same', value: ownMelody}}},
    }));
  }

  protected async play(melody: Melody | undefined): Promise<void> {
    if (!melody || this.playing()) return;
    this.playing.set(true);
    await playTones([tonesOf(melody)], {gapMs: 0});
    this.playing.set(false);
  }

  /** Lets a motor sound as its ESC is set; a stand-in is heard through the loudspeaker of this computer. */
  protected async sound(output: number, kind: 'usual' | 'lost-craft', loudness: number | undefined): Promise<void> {
    this.problem.set(undefined);
    try {
      await this.bench.requireClient().request('tone.sound', {output, kind});
      if (this.bench.hello()?.standIn && loudness !== undefined)
        await playTones([kind === 'usual' ? startTones.slice(0, 1) : lostTone], {loudness});
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      this.problem.set(error.problem);
    }
  }
}
