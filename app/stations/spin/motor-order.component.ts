import {ChangeDetectionStrategy, Component, DestroyRef, computed, inject, output, signal} from '@angular/core';
import {unexpectedKinds} from '@core/sheets/spin/spin-order';
import {CLOCK, every, forTheEye} from '../../bench/page-clock';
import {ChartComponent, sheetAxis, sheetColours} from '../../charts/chart.component';
import {CraftDrawingComponent} from '../../shared/craft-drawing.component';
import {GateComponent} from '../../shared/gate.component';
import {HoldButtonComponent} from '../../shared/hold-button.component';
import {ProblemComponent} from '../../shared/problem.component';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {MotionStore} from '../../state/spin/motion.store';
import {SpinHoldStore} from '../../state/spin/spin-hold.store';
import {StandInStore} from '../../state/stand-in.store';
import type {TurningOutput} from '../../workers/bench-control';
import {SuggestedIdleComponent} from './suggested-idle.component';

/** How often the trace and what eyes see are shown anew, ms. */
const lookEveryMs = 100;
/** A pulse turns a motor for longer, ms: eyes that look this often see each of them, on whatever clock. */
const pulseMs = 500;

/** Spin, motor order: hold to turn one output, point at what moved; order and rotation follow. */
@Component({
  selector: 'bx-motor-order',
  imports: [
    ChartComponent,
    CraftDrawingComponent,
    GateComponent,
    HoldButtonComponent,
    ProblemComponent,
    SuggestedIdleComponent,
  ],
  host: {'(document:keydown.t)': 'hold.itTurns()'},
  templateUrl: './motor-order.component.html',
  styleUrl: './motor-order.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MotorOrderComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  private readonly clock = inject(CLOCK);
  protected readonly fleet = inject(FleetStore);
  protected readonly hold = inject(SpinHoldStore);
  protected readonly idle = inject(MotionStore).idle;
  /** On to the next view. */
  readonly wentOn = output();

  protected readonly unexpectedKinds = unexpectedKinds;
  protected readonly seenTurning = signal<readonly TurningOutput[] | undefined>(undefined);
  protected readonly anythingMoves = computed(() => this.seenTurning()?.some((s) => s.turning || s.smoke) ?? true);

  protected readonly chart = computed(() => {
    const colours = sheetColours();
    const own = this.hold.output();
    const traces = this.hold.traces();
    return {
      animation: false,
      grid: {left: 44, right: 10, top: 24, bottom: 22},
      xAxis: sheetAxis(colours, '', {
        min: 0,
        max: 6,
        axisLabel: {color: colours.ink3, fontSize: 11, formatter: '{value} s'},
        splitLine: {show: false},
      }),
      yAxis: sheetAxis(colours, 'rpm', {
        min: 0,
        nameGap: 9,
        nameTextStyle: {align: 'right', color: colours.ink2, fontSize: 11},
      }),
      series: Object.entries(traces).map(([output, samples]) => ({
        type: 'line',
        showSymbol: false,
        data: samples.map((s) => [s.atS, s.rpm]),
        lineStyle:
          Number(output) === own ? {color: colours.petrol, width: 2} : {color: colours.ink3, width: 1, type: 'dashed'},
      })),
    };
  });

  constructor() {
    const endLooking = every(this.clock, Math.min(forTheEye(this.clock, lookEveryMs), pulseMs), () => void this.look());
    inject(DestroyRef).onDestroy(endLooking);
  }

  /** What eyes would see on the stand-in, and the trace so far. */
  private async look(): Promise<void> {
    this.hold.refresh();
    if (this.standIn.isPresent() && this.bench.isConnected()) this.seenTurning.set(await this.standIn.look());
  }
}
