/** The simulated flight controller: a saved configuration and the one it runs on. */
import {budgetOf} from '@core/controller/budget-of';
import type {LoopBudget} from '@core/dshot/loop-budget';
import type {WireConfig, ControllerIdentity} from '@core/link/operations';

export class Controller {
  /** What `controller.read` answers: the running fields with changes not saved yet. */
  pending: WireConfig;
  /** What the control loop uses since the last start. */
  running: WireConfig;
  /** Mishap: its memory for settings is worn, what is saved does not stay. */
  worn = false;

  constructor(
    readonly identity: ControllerIdentity,
    private saved: WireConfig,
    private readonly onSave: (config: WireConfig) => void,
  ) {
    this.pending = this.running = saved;
  }

  set(changes: Partial<WireConfig>): void {
    this.pending = {...this.pending, ...changes};
  }

  save(): void {
    if (this.worn) return;
    this.saved = this.pending;
    this.onSave(this.saved);
  }

  restart(): void {
    this.pending = this.running = this.saved;
  }

  budget(outputs: number): LoopBudget {
    return budgetOf(this.running, {clockMhz: this.identity.clockMhz, outputs});
  }
}
