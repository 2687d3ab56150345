/** Sounds: melodies that are written or were dropped, and motors that are let sound as their ESCs are set. */
import {inject} from '@angular/core';
import {patchState, signalStore, withComputed, withMethods, withState} from '@ngrx/signals';
import {withMelodies, withMelodyKind, withMelodyText, withoutMelodies} from '@core/craft/melody-plan';
import {ProblemError, type Problem} from '@core/problem';
import {firstMelody, soundsSheet, type MelodyKind} from '@core/sheets/parameters/sounds';
import {BenchStore} from '../bench.store';
import {CraftQuestionStore} from '../craft-question.store';
import {FleetStore} from '../fleet.store';

interface DroppedMelody {
  readonly name: string;
  readonly text: string;
}

interface SoundsState {
  /** Motor whose voice is written. */
  readonly motor: number;
  /** Melodies of files that were dropped; none is planned by itself. */
  readonly dropped: readonly DroppedMelody[];
  readonly problem: Problem | undefined;
}

/** As long as the field is. */
const longestMelody = 2000;

/** Of the component that provides it. */
export const SoundsStore = signalStore(
  withState<SoundsState>({motor: 0, dropped: [], problem: undefined}),
  withComputed(({motor}, questions = inject(CraftQuestionStore)) => ({
    sheet: questions.sheet((q) => soundsSheet(q, motor())),
  })),
  withMethods((store) => {
    const [fleet, bench] = [inject(FleetStore), inject(BenchStore)];
    const plan = (text: string) => fleet.edit((craft) => withMelodies(craft, {kind: 'same', text}));
    const write = (text: string) => fleet.edit((craft) => withMelodyText(craft, store.motor(), text));
    return {
      write,
      begin: (): void => plan(firstMelody),
      drop: (): void => fleet.edit(withoutMelodies),
      setKind(kind: MelodyKind): void {
        fleet.edit((craft) => withMelodyKind(craft, kind));
        patchState(store, {motor: 0});
      },
      setMotor: (motor: number): void => patchState(store, {motor}),
      /** The first line of each file waits to be planned. */
      async open(files: readonly File[]): Promise<void> {
        for (const file of files) {
          const line = (await file.text()).split(/\r?\n/).find((l) => l.trim()) ?? '';
          const melody = {name: file.name, text: line.trim().slice(0, longestMelody)};
          patchState(store, ({dropped}) => ({dropped: [...dropped, melody]}));
        }
      },
      useDropped({text}: DroppedMelody): void {
        if (store.sheet()!.isPlanned) write(text);
        else plan(text);
        patchState(store, ({dropped}) => ({dropped: dropped.filter((d) => d.text !== text)}));
      },
      /** Lets a motor sound; resolves with whether a stand-in did, which is heard only through this computer. */
      async sound(output: number, kind: 'usual' | 'lost-craft'): Promise<boolean> {
        patchState(store, {problem: undefined});
        try {
          await bench.requireClient().request('tone.sound', {output, kind});
          return !!bench.hello()?.standIn;
        } catch (error) {
          if (!(error instanceof ProblemError)) throw error;
          patchState(store, {problem: error.problem});
          return false;
        }
      },
      clearProblem: () => patchState(store, {problem: undefined}),
    };
  }),
);
