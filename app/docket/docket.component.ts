import {NgTemplateOutlet} from '@angular/common';
import {ChangeDetectionStrategy, Component, computed, effect, inject, signal} from '@angular/core';
import {RouterLink} from '@angular/router';
import {adoptAll} from '@core/compare/adopt';
import {batteryRefusal, withBatteryOn} from '@core/bench/battery';
import type {Progress} from '@core/run/runner';
import type {ChangeText, Step, StepKind} from '@core/order/steps';
import {isForPerson, leavableKinds, needsPropsOff, stepKinds, writesImages} from '@core/run/step-kinds';
import {orderEstimateMs} from '@core/order/work-order';
import {docketSheet} from '@core/sheets/docket';
import {stationTitles} from '@core/route/stations';
import {stillOpen} from '@core/route/still-open';
import {narrowScreen} from '../shared/screen-width';
import {HoldButtonComponent} from '../shared/hold-button.component';
import {ProblemComponent} from '../shared/problem.component';
import {GateComponent} from '../shared/gate.component';
import {SoundsComponent} from '../shared/sounds.component';
import {BenchStore} from '../state/bench.store';
import {connectText} from '../shared/connect-text';
import {StandInStore} from '../state/stand-in.store';
import {FleetStore} from '../state/fleet.store';
import {RecordStore} from '../state/record.store';
import {RouteStore} from '../state/route.store';
import {WorkStore} from '../state/work.store';

/** The docket: the work order at the right edge, growing as the plan and the bench drift apart. */
@Component({
  selector: 'bx-docket',
  imports: [NgTemplateOutlet, RouterLink, HoldButtonComponent, ProblemComponent, GateComponent, SoundsComponent],
  templateUrl: './docket.component.html',
  styleUrl: './docket.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DocketComponent {
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly connectText = connectText;
  protected readonly work = inject(WorkStore);
  protected readonly record = inject(RecordStore);
  private readonly fleet = inject(FleetStore);
  private readonly route = inject(RouteStore);
  protected readonly isForPerson = isForPerson;
  protected readonly stationTitles = stationTitles;
  protected readonly craft = this.fleet.current;
  /** What is still to be seen or measured, in the order of the route. */
  protected readonly stillOpen = computed(() => {
    const states = this.route.states();
    return states ? stillOpen(states) : [];
  });

  protected readonly draft = computed(() => {
    const draft = this.work.draft();
    return draft?.ok ? draft.value : undefined;
  });
  protected readonly sheet = computed(() =>
    docketSheet({
      ...{last: this.work.finished(), isOpen: this.work.open() !== undefined, draft: this.work.draft()},
      ...{isRead: this.record.found() !== undefined, onAdapter: this.bench.onAdapter()},
      keepsPlan: this.work.keepsPlan(),
    }),
  );
  protected readonly order = computed(() => this.work.open()?.order ?? this.draft());
  protected readonly steps = computed((): readonly Step[] => this.order()?.steps ?? []);
  protected readonly leftOut = computed(() => this.order()?.leftOut ?? []);
  /** What a roll-back leaves as it is. */
  protected readonly stays = computed(() => this.order()?.stays ?? []);
  protected readonly leftSteps = computed(() => this.order()?.leftSteps ?? []);
  /** Told while the order is not begun. */
  protected readonly warnings = computed(() => (this.work.open() ? [] : (this.order()?.warnings ?? [])));
  protected readonly texts = Object.fromEntries(leavableKinds.map(({kind, leavable}) => [kind, leavable]));
  /** First step of each kind that may be left out of the next order. */
  private readonly firstOfKind = computed(() => {
    const first = new Map<StepKind, string>();
    for (const {kind, id} of this.steps()) if (!first.has(kind)) first.set(kind, id);
    return first;
  });
  protected readonly writes = computed(() => this.steps().some(writesImages));
  /** Why this battery cannot finish the order; undefined when it can. */
  protected readonly batteryLow = computed(() => {
    const [order, power] = [this.order(), this.bench.power()];
    return order && power && this.writes() ? batteryRefusal(power, order.cells, orderEstimateMs(order)) : undefined;
  });
  protected readonly canStart = computed(
    () =>
      this.bench.isConnected() &&
      this.bench.isPowered() &&
      !this.bench.occupied() &&
      !this.batteryLow() &&
      (!this.needsProps() || this.bench.propsOff()),
  );
  /** Fields of the flight controller that wait for its cable. */
  protected readonly offRoad = computed(() => this.work.open() === undefined && this.bench.onAdapter());
  /** The bench is not what this order was made for: it would stop again, a new one follows from what is there. */
  protected readonly isOvertaken = computed(() => this.work.problem()?.code === 'found-changed');
  /** What is shown on its own; what was changed meanwhile has its own place. */
  protected readonly shownProblem = computed(() => {
    const problem = this.work.problem();
    return !problem || problem.code === 'changed-meanwhile'
      ? undefined
      : withBatteryOn(problem, this.bench.isPowered());
  });
  protected readonly account = computed(() => this.work.journal().findLast((e) => e.event === 'stopped'));
  protected readonly needsProps = computed(() => needsPropsOff(this.steps()));

  protected readonly narrow = narrowScreen();
  /** On a narrow screen: whether the docket lies open over the sheet. */
  protected readonly unfolded = signal(false);
  protected readonly title = computed(() => (this.order()?.rollsBack ? 'Work order, roll-back' : 'Work order'));
  /** What the folded docket says: the step at work, else what there is to do, else what is next. */
  protected readonly folded = computed(() => {
    const now = this.work.running() ? this.work.progress()?.text : undefined;
    const [next] = this.stillOpen();
    return now ?? (this.summary() || (next ? `next: ${stationTitles[next.station]}` : 'nothing open'));
  });

  protected readonly summary = computed(() => {
    const open = this.work.open();
    const states = this.work.stepStates();
    const count = this.steps().length;
    if (open) {
      const done = Object.values(states).filter((s) => s === 'done').length;
      return `${done} of ${count} steps done${this.work.running() ? '' : ', stopped'}`;
    }
    const order = this.order();
    return order && count
      ? `${count} ${count === 1 ? 'step' : 'steps'}, about ${duration(orderEstimateMs(order))}, nothing written yet`
      : '';
  });

  constructor() {
    // What waits for a person is not left folded away.
    effect(() => {
      if (this.work.progress()?.waitsFor) this.unfolded.set(true);
    });
    const current = computed(() => this.work.progress()?.stepId);
    effect(() => {
      const id = current();
      if (id) document.getElementById(`step-${id}`)?.scrollIntoView({block: 'nearest'});
    });
  }

  /** What a step at work says of itself; several write side by side. */
  protected at(step: Step): Progress | undefined {
    if (!this.work.running() || this.mark(step)) return undefined;
    const own = this.work.working()[step.id];
    return stepKinds.of(step).isGrouped || this.work.progress()?.stepId === step.id ? own : undefined;
  }

  /** Changes a step makes, value by value; those of a visit while it is at work. */
  protected changes(step: Step): readonly ChangeText[] | undefined {
    return 'changes' in step && (step.kind !== 'visit' || this.at(step)) ? step.changes : undefined;
  }

  protected leavable(step: Step): StepKind | undefined {
    if (this.work.open() || this.order()?.rollsBack || !stepKinds.of(step).leavable) return undefined;
    return this.firstOfKind().get(step.kind) === step.id ? step.kind : undefined;
  }

  /** After a roll-back the plan says what the craft holds again; undo takes that back. */
  protected planAsFound(): void {
    const found = this.record.found();
    if (found) this.fleet.edit((craft) => adoptAll(craft, found));
    // A plan has one firmware for all: what a mixed craft cannot be planned as is shown as the steps that are left.
    this.work.keepPlan();
  }

  protected connect(): void {
    void this.bench.connect(this.fleet.currentId() ?? '');
  }

  protected connectAndSurvey(): void {
    void this.bench.connectAndSurvey(this.fleet.currentId() ?? '');
  }

  protected clip(output: number | undefined): void {
    void this.standIn.clip(output);
  }

  protected readonly time = duration;

  protected mark(step: Step): string {
    return this.work.stepStates()[step.id] === 'done' ? '✓' : '';
  }
}

function duration(ms: number): string {
  const s = Math.round(ms / 1000);
  return s < 90 ? `${s} s` : `${Math.floor(s / 60)} min ${s % 60} s`;
}
