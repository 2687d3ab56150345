/** The stand-in bench beside its cable: pace, clip, mishaps. Views use it only where one is present. */
import {computed, inject} from '@angular/core';
import {patchState, signalStore, withComputed, withHooks, withMethods, withState} from '@ngrx/signals';
import type {WireRecording} from '@core/capture/read/recording';
import type {Road} from '@core/link/operations';
import {
  noMishaps,
  type ArmedMishap,
  type BenchMishaps,
  type BenchPace,
  type BenchState,
  type Pose,
  type TransmitterAct,
  type TurningOutput,
} from '../workers/bench-control';
import {STAND_IN} from '../workers/stand-in';
import {ChosenPort} from './chosen-port';
import {BenchStore} from './bench.store';
import {FleetStore} from './fleet.store';

interface StandInState {
  /** What the bench looks like beside its cable; undefined before it was plugged in. */
  readonly seen: BenchState | undefined;
  readonly mishaps: BenchMishaps;
}

export const StandInStore = signalStore(
  {providedIn: 'root'},
  withState<StandInState>({seen: undefined, mishaps: noMishaps}),
  withComputed((store) => {
    const [standIn, chosen, bench, fleet] = [
      inject(STAND_IN),
      inject(ChosenPort),
      inject(BenchStore),
      inject(FleetStore),
    ];
    return {
      /** The bench of the craft at hand is the simulated one. */
      isPresent: computed(
        () => standIn !== undefined && chosen.of(bench.craftId() ?? fleet.currentId()).kind === 'simulated',
      ),
      pace: computed((): BenchPace => store.seen()?.pace ?? 'ten'),
      /** Output the adapter is clipped to. */
      clippedTo: computed(() => store.seen()?.clippedTo),
    };
  }),
  withMethods((store, bench = inject(BenchStore), standIn = inject(STAND_IN)) => {
    const control = () => {
      if (standIn) return standIn.control;
      throw new Error('There is no stand-in bench');
    };
    const refresh = async () => patchState(store, {seen: await control().state()});
    return {
      refresh,
      setBattery: (on: boolean): Promise<void> => control().setBattery(on),
      pullCable: (): Promise<void> => control().pullCable(),
      restartController: (): Promise<void> => control().restartController(),
      hangController: (): Promise<void> => control().hangController(),
      strangeController: (): Promise<void> => control().strangeController(),
      replaceController: (): Promise<void> => control().replaceController(),
      plugInByHand: (): Promise<void> => control().plugInByHand(),
      /** Another program changes the settings of an ESC. */
      meddle: (output: number): Promise<void> => control().meddle(output),
      /** Someone mounts a motor with another number of magnets. */
      mountMotor: (output: number, poles: number): Promise<void> => control().mountMotor(output, poles),
      /** Something happens by itself, at a moment of the work. */
      arm: (mishap: ArmedMishap): Promise<void> => control().arm(mishap),
      /** The simulated hand holds the craft otherwise. */
      pose: (pose: Pose): Promise<void> => control().pose(pose),
      /** Something happens at the simulated transmitter. */
      async transmitter(act: TransmitterAct): Promise<void> {
        await control().transmitter(act);
        await refresh();
      },
      /** Sets the bench back to its first state. */
      reset: (): Promise<void> => control().reset(),
      /** Records its motor wires for so long, ms. */
      record: (ms: number): Promise<WireRecording> => control().record(ms),
      /** What eyes would see of its motors. */
      look: (): Promise<readonly TurningOutput[]> => control().look(),
      async setPace(pace: BenchPace): Promise<void> {
        await control().setPace(pace);
        await refresh();
      },
      async changeMishaps(changes: Partial<BenchMishaps>): Promise<void> {
        // Kept before it is sent: the next change, made while this one is on its way, goes on from it.
        patchState(store, {mishaps: {...store.mishaps(), ...changes}});
        await control().setMishaps(store.mishaps());
      },
      /** Clips the adapter to an ESC. */
      async clip(output: number | undefined): Promise<void> {
        await control().clip(output);
        await refresh();
      },
      /** Moves the cable to the flight controller or to the adapter; the connection ends and opens anew. */
      async plugInto(road: Road): Promise<void> {
        // Moving the cable ends the connection: after that nobody knows whose it was.
        const craftId = bench.craftId();
        if (craftId === undefined || bench.occupied()) return;
        await control().plugInto(road);
        await bench.reconnect(craftId);
        await refresh();
      },
    };
  }),
  withHooks((store, bench = inject(BenchStore)) => ({
    onInit: () => bench.onConnected(() => (store.isPresent() ? store.refresh() : Promise.resolve())),
  })),
);
