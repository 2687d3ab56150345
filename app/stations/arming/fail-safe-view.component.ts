import {ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import {failSafeSentence, judgeFailSafe} from '@core/arming/arming-proofs';
import {spedUpText} from '@core/arming/sped-up';
import {tryFailSafe, type FailSafeTrial, type TrialPhase} from '@core/arming/fail-safe-trial';
import type {FailSafe} from '@core/controller/arming-fields';
import {transmitterBack, type TransmitterBack} from '@core/arming/transmitter-back';
import {lockNote} from '@core/controller/locks';
import {canonicalJson} from '@core/canonical-json';
import {ProblemError, type Problem} from '@core/problem';
import {CLOCK} from '../../bench/clock';
import {GateComponent} from '../../shared/gate.component';
import {HoldButtonComponent} from '../../shared/hold-button.component';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {ProblemComponent} from '../../shared/problem.component';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {StandInStore} from '../../state/stand-in.store';
import {ArmingRecords} from './arming-records';
import {CockpitFeed} from './cockpit-feed';

const usual: FailSafe = {action: 'drop', afterMs: 400};
/** The simulated hand switches the transmitter off so long after the motors turn, ms. */
const handMs = 1500;

/** What the craft does without a signal: told in one sentence, planned, and tried with motors at idle. */
@Component({
  selector: 'bx-fail-safe-view',
  imports: [FormsModule, GateComponent, HoldButtonComponent, NumberFieldComponent, ProblemComponent, SelectButton],
  templateUrl: './fail-safe-view.component.html',
  styleUrl: './arming-view.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FailSafeViewComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  private readonly clock = inject(CLOCK);
  private readonly fleet = inject(FleetStore);
  private readonly feed = inject(CockpitFeed);
  private readonly records = inject(ArmingRecords);
  private readonly record = inject(RecordStore);

  protected readonly set = computed(() => this.records.found()?.failSafe ?? usual);
  protected readonly planned = computed(() => this.records.planned().failSafe ?? usual);
  protected readonly isWritten = computed(() => canonicalJson(this.planned()) === canonicalJson(this.set()));
  protected readonly sentence = failSafeSentence;
  protected readonly actions = [
    {value: 'drop', label: 'Motors off'},
    {value: 'land', label: 'Down slowly'},
    {value: 'hold', label: 'On as before'},
  ];
  protected readonly hasReplies = computed(() => this.records.found()?.replies === true);
  protected readonly canHold = computed(
    () =>
      this.bench.propsOff() &&
      !this.bench.occupied() &&
      this.hasReplies() &&
      !this.bench.runningOut() &&
      this.phase() !== 'back',
  );
  protected readonly phase = signal<TrialPhase | undefined>(undefined);
  protected readonly problem = signal<Problem | undefined>(undefined);
  protected readonly trial = signal<FailSafeTrial | undefined>(undefined);
  protected readonly verdict = computed(() => {
    const trial = this.trial();
    return trial && judgeFailSafe(trial, this.back());
  });
  protected readonly spedUp = computed(() => spedUpText(this.trial()?.spedUp ?? [], this.records.planned().poles));
  /** Why it cannot be written as things stand, and what unlocks it. */
  protected readonly locked = computed(() => lockNote('failSafe', this.record.found()?.controller?.locks));
  /** The simulated hand switches off by itself, as both of a person's hands are taken. */
  protected readonly handReady = signal(false);
  protected readonly phaseWords: Readonly<Record<TrialPhase, string>> = {
    starts: 'the motors start',
    turns: 'the motors turn: switch the transmitter off now',
    silent: 'no signal: waiting for every motor to stop',
    back: 'switch the transmitter on again',
  };
  private cancel = {aborted: false, why: undefined as Problem | undefined};
  /** The wait for the transmitter, which no button holds. */
  private waiting = {aborted: true};
  protected readonly back = signal<TransmitterBack | undefined>(undefined);

  constructor() {
    inject(DestroyRef).onDestroy(() => this.stopWaiting());
  }

  protected stopWaiting(): void {
    this.waiting.aborted = true;
  }

  protected plan(changes: Partial<FailSafe>): void {
    this.fleet.setController({failSafe: {...this.planned(), ...changes}});
  }

  protected letGo(): void {
    this.cancel.aborted = true;
  }

  protected async hold(): Promise<void> {
    const cancel = (this.cancel = {aborted: false, why: undefined as Problem | undefined});
    this.problem.set(undefined);
    this.trial.set(undefined);
    this.back.set(undefined);
    let release: (() => void) | undefined;
    try {
      release = this.bench.beginHold((why) => Object.assign(cancel, {aborted: true, why}), 'measurement');
      const trial = await this.feed.without(() => this.try(cancel));
      this.trial.set(trial);
      // The hold is over; what is left needs no hand at the button.
      release();
      release = undefined;
      this.phase.set('back');
      const waiting = (this.waiting = {aborted: false});
      const back = await this.feed.without(() =>
        transmitterBack(this.bench.requireClient(), {clock: this.clock, cancel: waiting}),
      );
      this.back.set(back);
      this.records.keep('fail-safe', judgeFailSafe(trial, back), trial.reports);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      this.problem.set(error.problem);
    } finally {
      release?.();
      this.phase.set(undefined);
      this.handReady.set(false);
    }
  }

  private try(cancel: {readonly aborted: boolean; readonly why: Problem | undefined}): Promise<FailSafeTrial> {
    const {arms, plan} = this.fleet.current()!;
    return tryFailSafe(this.bench.requireClient(), {
      ...{outputs: arms.length, idle: plan.controller.idlePercent / 100, clock: this.clock, cancel},
      onPhase: (phase) => {
        this.phase.set(phase);
        if (phase === 'turns' && this.handReady())
          this.clock.after(handMs, () => void this.standIn.transmitter({what: 'power', on: false}));
      },
    });
  }
}
