import {ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal} from '@angular/core';
import {isDigital} from '@core/dshot/protocol';
import {ProblemError, type Problem} from '@core/problem';
import {throttleRange} from '@core/spin/throttle-range';
import {ProblemComponent} from '../../shared/problem.component';
import {SoundsComponent} from '../../shared/sounds.component';
import {CLOCK, every} from '../../bench/clock';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {StandInStore} from '../../state/stand-in.store';

/** The level is sent anew this often, for so long, ms: it ends by itself when the page goes. */
const renewMs = 500;
const leaseMs = 1500;
/** Time that ESCs take to take the highest pulse after power-up, and the lowest after it, ms. */
const highMs = 3000;
const lowMs = 1200;

/** Where a calibration is; it begins with the battery off. */
type Phase = 'idle' | 'battery off' | 'highest' | 'taken' | 'lowest' | 'done';

/** Throttle range: ends of every ESC as calibration left them, judged, and calibrated anew where they are analog. */
@Component({
  selector: 'bx-throttle-range',
  imports: [ProblemComponent, SoundsComponent],
  templateUrl: './throttle-range.component.html',
  styles: `
    .cols {
      display: grid;
      grid-template-columns: minmax(420px, 1.2fr) minmax(300px, 1fr);
      gap: var(--s8);
    }
    td,
    th {
      font-size: var(--fs-small);
    }
    th.n {
      font-family: var(--sans);
    }
    caption {
      text-align: left;
      font-size: var(--fs-small);
    }
    .scale {
      width: 46%;
    }
    svg {
      width: 100%;
      height: 16px;
      display: block;
    }
    .track {
      fill: var(--rule-2);
    }
    .span {
      fill: var(--petrol-soft);
      stroke: var(--petrol);
    }
    .remark {
      padding: var(--s4) 0;
      border-bottom: 1px solid var(--rule-2);
      font-size: var(--fs-body);
    }
    .ask {
      background: var(--sheet);
      border: 1px solid var(--rule);
      padding: var(--s6) var(--s7);
      margin-bottom: var(--s5);
    }
    .ask h4 {
      font-size: var(--fs-lead);
      margin-bottom: var(--s3);
    }
    .ask li {
      padding: var(--s2) 0;
      font-size: var(--fs-body);
    }
    .ask ol {
      padding-left: var(--s8);
      margin-bottom: var(--s5);
    }
    .now {
      font-weight: 650;
    }
    .ask .btn {
      margin-right: var(--s4);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ThrottleRangeComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  private readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);
  private readonly clock = inject(CLOCK);

  protected readonly protocol = computed(
    () => this.record.found()?.controller?.config.protocol ?? this.fleet.current()!.plan.controller.protocol,
  );
  protected readonly isPulse = computed(() => !isDigital(this.protocol()));
  protected readonly range = computed(() => throttleRange(this.record.found(), this.fleet.current()!.arms.length));
  protected readonly phase = signal<Phase>('idle');
  protected readonly problem = signal<Problem | undefined>(undefined);
  /** Ends as they were before a calibration of this visit. */
  protected readonly before = signal<readonly {output: number; minUs: number; maxUs: number}[]>([]);
  protected readonly canBegin = computed(
    () => this.isPulse() && this.bench.isConnected() && !this.bench.onAdapter() && !this.bench.occupied(),
  );
  private level: 'lowest' | 'highest' | undefined;
  private release: (() => void) | undefined;

  constructor() {
    const endSending = every(this.clock, renewMs, () => void this.renew());
    inject(DestroyRef).onDestroy(() => {
      endSending();
      this.end();
    });
  }

  protected place(us: number): number {
    return ((us - 950) / 1100) * 100;
  }

  protected wasAt(output: number): {minUs: number; maxUs: number} | undefined {
    return this.before().find((e) => e.output === output);
  }

  /** Asks for the battery to be off first: an ESC that runs would take the highest pulse for full throttle. */
  protected begin(): void {
    this.release = this.bench.takeWires('measurement');
    if (!this.release) return;
    this.problem.set(undefined);
    this.before.set(this.range().ends);
    this.phase.set('battery off');
  }

  protected stop(): void {
    this.end();
    this.phase.set('idle');
  }

  private end(): void {
    if (this.level === 'highest') void this.send('lowest');
    this.level = undefined;
    this.release?.();
    this.release = undefined;
  }

  /** Sends the level that is due, and goes on where the battery says so. */
  private async renew(): Promise<void> {
    const phase = this.phase();
    const powered = this.bench.isPowered();
    if (phase === 'battery off' && !powered) this.turnTo('highest', 'highest');
    if (phase === 'highest' && powered) {
      this.phase.set('taken');
      this.clock.after(highMs, () => this.phase() === 'taken' && this.turnTo('lowest', 'lowest'));
    }
    if (phase === 'taken' && !powered) this.phase.set('highest');
    if (this.level) await this.send(this.level);
  }

  private turnTo(phase: Phase, level: 'lowest' | 'highest'): void {
    this.phase.set(phase);
    this.level = level;
    if (level === 'lowest') this.clock.after(lowMs, () => this.phase() === 'lowest' && this.finish());
  }

  private finish(): void {
    this.end();
    this.phase.set('done');
  }

  private async send(level: 'lowest' | 'highest'): Promise<void> {
    try {
      await this.bench.requireClient().request('ends.send', {level, leaseMs});
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      this.level = undefined;
      this.problem.set(error.problem);
      this.end();
      this.phase.set('idle');
    }
  }
}
