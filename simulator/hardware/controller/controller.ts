/** The simulated flight controller: a saved configuration and the one it runs on. */
import {budgetOf} from '@core/controller/budget-of';
import {keepsUsb} from '@core/controller/firmware/chips';
import {isOnlyWithoutUsb, runningMhz} from '@core/controller/raised-clock';
import type {LoopBudget} from '@core/dshot/loop-budget';
import type {Argument, WireConfig, ControllerIdentity, MixerRow} from '@core/link/operations';
import {factoryConfig, fieldsOf} from './controller-fields';
import type {SettingValues} from '@core/link/setting-shapes';
import type {SettingChanges} from './held-settings';
import {heldMixer, ownMixer, type AirframeKind} from './held-mixer';

interface Made {
  /** Airframe for which it mixes, where another than its arms is set. */
  readonly mixes?: AirframeKind | undefined;
  /** Highest clock at which this one runs, MHz: each piece has its own. */
  readonly highestMhz?: number | undefined;
  /** Settings beside the fields that were set and saved. */
  readonly settings?: SettingValues | undefined;
}

export class Controller {
  /** What `controller.read` answers: the running fields with changes not saved yet. */
  pending: WireConfig;
  /** What the control loop uses since the last start. */
  running: WireConfig;
  /** Settings beside the fields, with changes not saved yet. */
  pendingSettings: SettingValues;
  /** Those that it runs on since the last start. */
  runningSettings: SettingValues;
  /** Mishap: its memory for settings is worn, what is saved does not stay. */
  worn = false;

  /** The mixer that it runs on. */
  get mixer(): MixerRow[] {
    const {running, mixes} = this;
    return ownMixer(this.runningSettings, running.arms.length) ?? heldMixer(running, mixes);
  }

  constructor(
    private board: ControllerIdentity,
    private saved: WireConfig,
    private readonly onSave: (config: WireConfig, settings: SettingValues) => void,
    {mixes, highestMhz, settings = {}}: Made = {},
  ) {
    this.mixes = mixes;
    this.highestMhz = highestMhz ?? Infinity;
    this.version = board.version;
    this.saved = fieldsOf(this.version, saved);
    this.pending = this.running = this.saved;
    this.pendingSettings = this.runningSettings = this.savedSettings = settings;
  }

  private version: string;
  private savedSettings: SettingValues;
  private budgeted: {readonly of: WireConfig; readonly outputs: number; readonly is: LoopBudget} | undefined;
  private readonly mixes: AirframeKind | undefined;
  private readonly highestMhz: number;

  get identity(): ControllerIdentity {
    return {...this.board, version: this.version};
  }

  /** Another board of the same make is in its place, with what it was set to. */
  replaceBoard(serial: string, saved: WireConfig): void {
    this.board = {...this.board, serial};
    this.keep(fieldsOf(this.version, saved), {});
    this.restart();
  }

  /** Another version of its firmware starts: it knows nothing of what the one before kept. */
  startFirmware(version: string): void {
    if (version !== this.version) {
      this.version = version;
      this.keep(factoryConfig(version, this.saved), {});
    }
    this.restart();
  }

  /** What it keeps without power. */
  get kept(): WireConfig {
    return this.saved;
  }

  /** What it keeps beside the fields. */
  get keptSettings(): SettingValues {
    return this.savedSettings;
  }

  setLines({fields, kept}: SettingChanges): void {
    this.set(fields);
    this.pendingSettings = kept;
  }

  set(changes: Partial<WireConfig>): void {
    this.pending = fieldsOf(this.version, {...this.pending, ...changes});
  }

  save(): void {
    if (this.worn) return;
    this.keep(this.pending, this.pendingSettings);
  }

  private keep(config: WireConfig, settings: SettingValues): void {
    this.saved = config;
    this.savedSettings = settings;
    this.onSave(config, settings);
  }

  restart(): void {
    this.pending = this.running = this.saved;
    this.pendingSettings = this.runningSettings = this.savedSettings;
  }

  /** Asked every millisecond for every motor: computed anew only when another configuration runs. */
  budget(outputs: number): LoopBudget {
    if (this.budgeted?.of !== this.running || this.budgeted.outputs !== outputs)
      this.budgeted = {
        ...{of: this.running, outputs},
        is: budgetOf(this.runningOnUsb, {clockMhz: this.identity.clockMhz, outputs}),
      };
    return this.budgeted.is;
  }

  /** On this bench the cable is in USB: a clock that is raised only without it is not used. */
  private get runningOnUsb(): WireConfig {
    return isOnlyWithoutUsb(this.runningSettings) ? {...this.running, clockMhz: 0} : this.running;
  }

  /** Clock that its processor runs at, MHz. */
  get clockMhz(): number {
    return runningMhz(this.runningOnUsb, this.identity.clockMhz);
  }

  /** A raised clock at which nothing runs, or USB has no clock: it answers nobody. */
  get isLost(): boolean {
    const {clockMhz} = this;
    return clockMhz !== this.identity.clockMhz && (clockMhz > this.highestMhz || !keepsUsb(this.board.chip, clockMhz));
  }

  /** It was started by hand: a raised clock is forgotten. */
  forgetClock(): void {
    if (!this.saved.clockMhz) return;
    this.keep({...this.saved, clockMhz: 0}, this.savedSettings);
    this.restart();
  }
}

type Call = {
  [O in Quick]: {
    operation: O;
    argument: Argument<O>;
  };
}[Quick];
type Quick = 'controller.identify' | 'controller.read' | 'controller.part' | 'controller.set' | 'controller.save';

/** What a flight controller answers to a command that takes no time. */
export function takeControllerCommand(controller: Controller, call: Call): unknown {
  switch (call.operation) {
    case 'controller.identify':
      return controller.identity;
    case 'controller.read':
      return controller.pending;
    case 'controller.part':
      return Object.fromEntries(
        Object.entries(controller.pending).filter(([name]) => call.argument.fields.includes(name)),
      );
    case 'controller.set':
      controller.set(call.argument);
      return null;
    case 'controller.save':
      controller.save();
      return null;
  }
}
