import {ChangeDetectionStrategy, Component, effect, inject, signal, untracked} from '@angular/core';
import {ButtonsFieldComponent} from '../../shared/buttons-field.component';
import {SelectFieldComponent} from '../../shared/select-field.component';
import {stressChoices, stressRule, stressSheet} from '@core/sheets/signal/stress';
import {GateComponent} from '../../shared/gate.component';
import {HoldButtonComponent} from '../../shared/hold-button.component';
import {ProblemComponent} from '../../shared/problem.component';
import {BenchStore} from '../../state/bench.store';
import {CaptureStore, recordingMs} from '../../state/capture.store';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FleetStore} from '../../state/fleet.store';
import {OwnPlace} from '../../state/own-place';
import {StandInStore} from '../../state/stand-in.store';
import {StressStore} from '../../state/spin/stress.store';
import {LiveStripsComponent} from './live-strips.component';
import {LossStripsComponent} from './loss-strips.component';
import {SignalFindingsComponent} from './signal-findings.component';

/** Replies under load: a script held by hand, what was lost by motor, kind, time, throttle and speed, and why. */
@Component({
  selector: 'bx-stress-view',
  imports: [
    ButtonsFieldComponent,
    SelectFieldComponent,
    GateComponent,
    HoldButtonComponent,
    LiveStripsComponent,
    LossStripsComponent,
    ProblemComponent,
    SignalFindingsComponent,
  ],
  templateUrl: './stress-view.component.html',
  styleUrl: './stress-view.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StressViewComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly stress = inject(StressStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly captures = inject(CaptureStore);
  private readonly fleet = inject(FleetStore);
  private readonly own = inject(OwnPlace);

  protected readonly lengths = stressChoices;
  protected readonly rule = stressRule;
  protected readonly seconds = signal(stressChoices[0]!.value);
  /** Whether a part of the run is recorded from the simulated wires. */
  protected readonly records = signal(false);
  protected readonly yesNo = [
    {value: false, label: 'no'},
    {value: true, label: 'yes'},
  ];
  protected readonly recordingMs = recordingMs;
  protected readonly sheet = inject(CraftQuestionStore).sheet((q) =>
    stressSheet(q, {
      ...{isHeld: this.stress.isHeld(), counting: this.stress.counting(), shown: this.stress.shown()},
      ...{runs: this.stress.own(), place: this.own.place(), volts: this.bench.power()?.volts, cap: this.bench.cap()},
    }),
  );

  constructor() {
    effect(() => {
      this.fleet.current();
      untracked(() => void this.stress.open());
    });
  }

  /** Holds the run; its wires are recorded where that was asked for. */
  protected hold(): void {
    const record = () => void this.captures.record(recordingMs);
    void this.stress.hold(this.seconds(), this.records() ? record : undefined);
  }
}
