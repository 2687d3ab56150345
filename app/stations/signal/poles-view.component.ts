import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import type {SignalFinding} from '@core/compare/signal-findings';
import {wrongPoles} from '@core/controller/wrong-poles';
import {polesBehind} from '@core/motion/odd-motor';
import {poleWords} from '@core/noise/pole-words';
import {polesFromSpeed} from '@core/replies/poles-from-speed';
import {middle, percent} from '@core/replies/replies';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {FleetStore} from '../../state/fleet.store';
import {FlightStore} from '../../state/flight.store';
import {MotionStore} from '../../state/motion.store';
import {RecordStore} from '../../state/record.store';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {SignalFindingsComponent} from './signal-findings.component';

/** Gyro rate of a controller that nobody has read yet, Hz. */
const usualGyroHz = 8000;

/** The pole count: what a wrong one does, and what speeds and flights say of it. */
@Component({
  selector: 'bx-poles-view',
  imports: [NumberFieldComponent, SignalFindingsComponent],
  template: `
    <h2 class="first">What shows the count</h2>
    <bx-signal-findings [findings]="findings()" label="What shows the pole count" />
    <h2>What a wrong count does</h2>
    <div class="form">
      <bx-number-field
        name="poles-rpm"
        label="A motor turns with"
        unit=" rpm"
        [min]="600"
        [max]="200000"
        [step]="500"
        [buttons]="true"
        [grouping]="true"
        [value]="rpm()"
        (changed)="rpm.set($event || 600)"
      />
    </div>
    <table class="plain" aria-label="What a wrong pole count does">
      <thead>
        <tr>
          <th>Poles</th>
          <th>Reads</th>
          <th>Times the true speed</th>
          <th>First notch at</th>
          <th>Beside the line by</th>
          <th>Leaves of the line</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        @for (row of rows(); track row.poles) {
          <tr [class.here]="row.isTrue">
            <td class="n">{{ row.poles }}</td>
            <td class="n">{{ number(rpm() * row.ratio) }} rpm</td>
            <td class="n">{{ row.ratio.toFixed(3) }}</td>
            <td class="n">{{ row.notchHz.toFixed(0) }} Hz</td>
            <td class="n">{{ row.isTrue ? '–' : number(row.notchHz - lineHz()) + ' Hz' }}</td>
            <td class="n">{{ row.leavesDb <= -60 ? 'nothing' : number(row.leavesDb, 1) + ' dB' }}</td>
            <td>
              @if (row.isTrue) {
                <span class="tag ok">counted</span>
              }
              @if (row.poles === planned()) {
                <span class="tag plan">planned</span>
              }
            </td>
          </tr>
        }
      </tbody>
    </table>
    <p class="quiet small">
      Predicted for the planned notches ({{ notchText() }}) of one motor at this speed, at {{ gyroHz() / 1000 }} kHz. A
      reply counts electrical turns; poles / 2 of them are one turn of the shaft. 0 dB: the noise passes whole, and the
      delay of the filter is paid for nothing.
    </p>
  `,
  styles: `
    h2.first {
      padding-top: 0;
    }
    .form {
      display: grid;
      grid-template-columns: 150px 180px;
      gap: var(--s4) var(--s6);
      align-items: center;
      font-size: var(--fs-body);
      padding: var(--s4) 0;
    }
    tr.here {
      background: var(--tint);
    }
    .small {
      font-size: var(--fs-note);
      padding-top: var(--s3);
      max-width: 100ch;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PolesViewComponent {
  private readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);
  private readonly route = inject(CraftQuestionStore);
  private readonly flights = inject(FlightStore);
  private readonly motion = inject(MotionStore);

  private readonly counted = computed(() => this.fleet.current()!.motor.poles);
  protected readonly planned = computed(() => this.fleet.current()!.plan.controller.poles);
  protected readonly gyroHz = computed(() => this.record.found()?.controller?.config.gyroHz ?? usualGyroHz);
  /** Half of what the motor turns without load on a charged pack. */
  protected readonly rpm = signal(this.usualRpm());
  protected readonly lineHz = computed(() => this.rpm() / 60);
  protected readonly rows = computed(() =>
    wrongPoles(this.fleet.current()!.plan.controller, {
      ...{counted: this.counted(), lineHz: this.lineHz(), rateHz: this.gyroHz()},
    }),
  );
  protected readonly notchText = computed(() => {
    const {notchHarmonics, notchQ, notchMinHz, replies} = this.fleet.current()!.plan.controller;
    if (!replies || !notchHarmonics.length) return 'none planned';
    return `${notchHarmonics.map((h) => `${h}×`).join(' ')}, Q ${notchQ}, from ${notchMinHz} Hz`;
  });

  protected readonly findings = computed((): SignalFinding[] => [
    this.ofCount(),
    this.ofController(),
    this.ofSpeed(),
    this.ofCard(),
    this.ofFlight(),
  ]);

  protected number(value: number, digits = 0): string {
    const text = Math.abs(value).toLocaleString('en', {minimumFractionDigits: digits, maximumFractionDigits: digits});
    return `${value < 0 ? '−' : ''}${text}`;
  }

  constructor() {
    void this.motion.open();
  }

  private usualRpm(): number {
    const {motor, battery} = this.fleet.current()!;
    return Math.round((0.5 * motor.kv * battery.cells * 4) / 500) * 500;
  }

  private ofCount(): SignalFinding {
    const [planned, counted] = [this.planned(), this.counted()];
    if (planned === counted)
      return {
        id: 'counted',
        tag: 'ok',
        word: 'counted',
        text: `${counted} magnets on the Craft station, and ${planned} planned.`,
      };
    return {
      ...{id: 'counted', tag: 'diff', word: 'counted'},
      text: `${counted} magnets on the Craft station, but ${planned} planned.`,
      action: {text: `Plan ${counted} poles`, change: {poles: counted}},
    };
  }

  private ofController(): SignalFinding {
    const found = this.record.found()?.controller?.config.poles;
    if (found === undefined) return {id: 'controller', tag: 'wait', word: 'controller', text: 'Not read yet.'};
    const fits = found === this.counted();
    return {
      ...{id: 'controller', tag: fits ? 'ok' : 'diff', word: 'controller'},
      text: fits
        ? `It holds ${found}.`
        : `It holds ${found}: its speeds read ${(this.counted() / found).toFixed(2)} × what they are.`,
      ...(!fits && this.planned() !== found && {action: {text: 'Carry out the work order', bench: true} as const}),
    };
  }

  /** By KV × volts × throttle, from the measurement of the replies. */
  private ofSpeed(): SignalFinding {
    const standing = this.route.standings()?.replies;
    const measures = standing && standing.kind !== 'none' ? standing.proof.replies : undefined;
    const told = measures && polesFromSpeed(measures, this.planned());
    if (!told)
      return {
        ...{id: 'speed', tag: 'wait', word: 'KV and volts'},
        text: 'Measure the replies: speed over KV × volts × throttle leaves few counts.',
        action: {text: 'Hold to measure, under Replies', bench: true},
      };
    const fits = told.plausible.includes(this.counted());
    const list = told.plausible.join(', ') || 'none';
    return {
      ...{id: 'speed', tag: fits ? 'ok' : 'diff', word: 'KV and volts'},
      text: `At ${percent(told.throttle)} throttle the motors turned at ${percent(told.share)} of KV × volts × throttle, read with ${this.planned()} poles. A free motor lies between 70 and 110 %: with ${list} poles.`,
      ...(!fits && {action: {text: 'Count the magnets again', station: 'craft'} as const}),
    };
  }

  /** By the KV that the newest motor card fitted: a wrong count of poles makes it wrong by the same share. */
  private ofCard(): SignalFinding {
    const own = this.motion.own();
    // Speeds of a file were made with poles that somebody else believed.
    const run = own?.source === 'file' ? undefined : own;
    const told = run?.report.motors.flatMap(({kv}) => (kv.value === undefined ? [] : [kv.value])) ?? [];
    if (!run || !told.length)
      return {
        ...{id: 'card', tag: 'wait', word: 'motor card'},
        text: 'No motor card was measured: it fits the KV of every motor from its speeds.',
        action: {text: 'Measure the motors', station: 'spin'},
      };
    const [kv, label] = [middle(told), this.fleet.current()!.motor.kv];
    const behind = polesBehind(kv, label, run.poles);
    const text = `The motor card fitted a KV of ${this.number(kv)} with ${run.poles} poles; the label says ${this.number(label)}`;
    return behind === undefined
      ? {id: 'card', tag: 'ok', word: 'motor card', text: `${text}.`}
      : {
          ...{id: 'card', tag: 'diff', word: 'motor card', text: `${text}: it fits with ${behind.poles} poles.`},
          action: {text: 'Count the magnets again', station: 'craft'},
        };
  }

  /** By the lines in a flight. */
  private ofFlight(): SignalFinding {
    const open = this.flights.current();
    const words = open && poleWords(open.summary.report.poles, open.summary.report.loggedPoles);
    if (!words)
      return {
        ...{id: 'flight', tag: 'wait', word: 'flight'},
        text: open
          ? 'The open flight gives no answer: its speeds change too little, or no line stands out.'
          : 'No flight is open. The motor lines of a flight show the count most reliably.',
        action: {text: 'Open a flight', station: 'noise'},
      };
    return {id: 'flight', tag: words.fits ? 'ok' : 'diff', word: 'flight', text: `${words.title}. ${words.text}`};
  }
}
