/** The board of the simulated flight controller: its loader below, its firmware above, and which of the two runs. */
import type {Argument, FieldLock, Operation} from '@core/link/operations';
import type {BenchKeeper, BenchSetup} from '../bench-setup';
import {Controller, takeControllerCommand} from './controller';
import {takeSettingsCommand} from './settings-command';
import {Loader, loaderMs} from './loader';
import type {Random} from '../../random';

type CallOf<O extends Operation> = {[P in O]: {readonly operation: P; readonly argument: Argument<P>}}[O];
type SettingsCall = CallOf<Extract<Operation, `settings.${string}`>>;
export type BoardCall = CallOf<Extract<Operation, `controller.${string}` | `loader.${string}`>> | SettingsCall;
export const isOfBoard = (call: {readonly operation: string}): call is BoardCall =>
  /^(controller|loader|settings)\./.test(call.operation);

/** What a controller without firmware still answers. */
const inLoader = /^(hello|power|reports|spin\.stop|loader\..*)$/;
const restartMs = 300;

interface Answers {
  readonly done: (value: unknown) => void;
  readonly refuse: (code: string, text: string) => void;
  readonly after: (ms: number, callback: () => void) => void;
  /** What cannot be set now. */
  readonly locks: readonly FieldLock[];
  /** Motors stop: the firmware that turned them ends. */
  readonly endHolds: () => void;
}

export class ControllerBoard {
  readonly controller: Controller;
  readonly loader: Loader;
  /** Mishap: what is there checks and starts, and then answers nobody. Writing it anew mends it. */
  hangs = false;

  constructor(
    {controller: {identity, loader, saved, settings, highestMhz}, mixes}: BenchSetup,
    keeper: BenchKeeper | undefined,
    private readonly random: Random,
  ) {
    this.loader = new Loader(identity, loader, () => keeper?.loader?.(this.loader));
    const version = this.loader.firmware?.version ?? identity.version;
    const keep: BenchKeeper['controller'] = (config, kept) => keeper?.controller(config, kept);
    this.controller = new Controller({...identity, version}, saved, keep, {mixes, highestMhz, settings});
  }

  /** Whether nothing at all is answered. */
  get isSilent(): boolean {
    return (this.hangs || this.controller.isLost) && !this.loader.isActive;
  }

  /** Whether an operation finds nobody, as no firmware runs. */
  refuses = (operation: string): boolean => this.loader.isActive && !inLoader.test(operation);

  /** It powers up: what its loader finds whole is started. @param byHand someone holds its button, or bridges its pads. */
  powerUp(byHand = false): void {
    this.loader.cut(this.random);
    this.loader.powerUp(byHand);
    const {firmware} = this.loader;
    if (byHand) this.controller.forgetClock();
    if (firmware && !byHand) this.controller.startFirmware(firmware.version);
  }

  take(call: BoardCall, a: Answers): void {
    const restart = (ms: number, what: () => void) =>
      a.after(ms, () => {
        what();
        if (!this.isSilent) a.done(null);
      });
    switch (call.operation) {
      case 'controller.restart':
        a.endHolds();
        return restart(restartMs, () => this.controller.restart());
      case 'loader.enter':
        a.endHolds();
        return restart(loaderMs.restart, () => this.loader.enter());
      case 'controller.identify':
      case 'controller.read':
      case 'controller.part':
      case 'controller.set':
      case 'controller.save':
        return a.done(takeControllerCommand(this.controller, call));
      case 'settings.describe':
      case 'settings.read':
      case 'settings.write':
      case 'settings.save':
        return a.done(takeSettingsCommand(this.controller, call, a.locks));
      default:
        return this.takeOfLoader(call, a, restart);
    }
  }

  private takeOfLoader(
    call: Exclude<BoardCall, CallOf<Extract<Operation, `controller.${string}`> | 'loader.enter'> | SettingsCall>,
    a: Answers,
    restart: (ms: number, what: () => void) => void,
  ): void {
    if (!this.loader.isActive) return a.refuse('not-in-loader', 'The firmware runs: enter the loader first.');
    if (call.operation === 'loader.download') this.hangs = false;
    const taken = call.operation === 'loader.leave' ? this.loader.leave() : this.loader.take(call);
    if ('code' in taken) return a.refuse(taken.code, taken.text);
    if (call.operation === 'loader.leave') return restart(loaderMs.restart, () => this.powerUp());
    a.after(taken.ms, () => {
      const value = taken.finish();
      if (value !== undefined) a.done(value);
    });
  }
}
