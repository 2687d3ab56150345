import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {SelectButton} from 'primeng/selectbutton';
import {pairChange, pairText, signalFindings} from '@core/compare/signal-findings';
import {budgetOf} from '@core/controller/budget-of';
import {controllerChips, keepsUsb} from '@core/controller/firmware/chips';
import {usualRates} from '@core/controller/loop-rates';
import {asRunning, type ControllerPlan} from '@core/controller/plan';
import {allPairs, loopNeed, preferredPairs} from '@core/controller/preferred-pairs';
import type {SignalPair} from '@core/controller/signal-pair';
import {isDigital, protocolName} from '@core/dshot/protocol';
import {chips, findChip} from '@core/firmware/chips';
import {ConnectComponent} from '../../shared/connect.component';
import {NumberFieldComponent} from '../../shared/number-field.component';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {OwnPlace} from '../../state/own-place';
import {LoopBarsComponent, type LoopRow} from './loop-bars.component';
import {PairTableComponent} from './pair-table.component';
import {SignalFindingsComponent} from './signal-findings.component';

/** Which protocol goes with which loop: findings on the plan, one loop to scale, and every pair there is. */
@Component({
  selector: 'bx-budget-view',
  imports: [
    ConnectComponent,
    FormsModule,
    LoopBarsComponent,
    NumberFieldComponent,
    PairTableComponent,
    Select,
    SelectButton,
    SignalFindingsComponent,
  ],
  templateUrl: './budget-view.component.html',
  styleUrl: './signal.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BudgetViewComponent {
  protected readonly fleet = inject(FleetStore);
  protected readonly record = inject(RecordStore);
  protected readonly own = inject(OwnPlace);

  protected readonly plan = computed(() => this.fleet.current()!.plan.controller);
  protected readonly protocols = Object.entries(protocolName).map(([value, label]) => ({value, label}));
  protected readonly onOff = [
    {label: 'off', value: false},
    {label: 'on', value: true},
  ];
  protected readonly loops = computed(() =>
    [...new Set([...usualRates, this.plan().loopHz])]
      .sort((a, b) => b - a)
      .map((value) => ({value, label: `${value / 1000} kHz`})),
  );
  protected readonly pairText = pairText;
  /** Undefined where the controller's firmware has no such field. */
  protected readonly foundExtended = computed(() => this.record.found()?.controller?.config.extendedReplies);
  protected readonly hasExtended = computed(() => this.foundExtended() !== undefined);

  /** Another chip or clock than the craft's, to look at: '' for its own. */
  protected readonly otherChip = signal('');
  protected readonly otherClock = signal(0);
  protected readonly chipChoices = computed(() => [
    {value: '', label: this.own.chip() ? `this craft's, ${this.own.chip()!.name}` : 'not known'},
    ...Object.values(chips).map(({name, fastestReplyDshot}) => ({
      value: name,
      label: `${name}, DShot${fastestReplyDshot}`,
    })),
  ]);
  protected readonly clockChoices = computed(() => [
    {value: 0, label: `this craft's, ${this.plan().clockMhz || this.own.place()?.clockMhz} MHz`},
    ...controllerChips.flatMap((chip) =>
      [chip.ratedMhz, ...chip.raisedMhz.filter((mhz) => keepsUsb(chip.name, mhz))].map((mhz) => ({
        value: mhz,
        label: `${chip.name}, ${mhz} MHz${mhz === chip.ratedMhz ? '' : ' raised'}`,
      })),
    ),
  ]);
  protected readonly isOther = computed(() => this.otherChip() !== '' || this.otherClock() !== 0);

  /** The craft, or another chip or clock in its place; undefined before the flight controller was read. */
  private readonly question = computed(() => {
    const own = this.own.place();
    if (!own) return undefined;
    const clockMhz = this.otherClock();
    const chip = findChip(this.otherChip()) ?? own.chip;
    const plan = clockMhz ? {...this.plan(), clockMhz: 0} : this.plan();
    return {plan, place: {...own, chip, clockMhz: clockMhz || own.clockMhz}};
  });
  protected readonly verdicts = computed(() => {
    const q = this.question();
    return q ? allPairs(q.plan, q.place) : [];
  });
  protected readonly preferred = computed(() => {
    const q = this.question();
    return q ? preferredPairs(q.plan, q.place) : [];
  });
  protected readonly need = computed(() => {
    const q = this.question();
    return q && loopNeed(q.plan, q.place);
  });
  protected readonly findings = computed(() => {
    const place = this.own.place();
    return place ? signalFindings({plan: this.plan(), place, countedPoles: this.fleet.current()!.motor.poles}) : [];
  });

  protected readonly rows = computed((): LoopRow[] => {
    const found = this.record.found()?.controller;
    const place = this.own.place();
    if (!found || !place) return [];
    const row = (title: string, c: ControllerPlan): LoopRow => ({
      title,
      config: `${protocolName[c.protocol]}, replies ${c.replies ? 'on' : 'off'}, ${c.loopHz / 1000} kHz`,
      budget: budgetOf(c, place),
      isPulse: !isDigital(c.protocol),
    });
    return [row('found', asRunning(found.config)), row('plan', this.plan())];
  });

  /** Both sides of the wire at once. */
  protected choose(pair: SignalPair): void {
    this.set(pairChange(pair, this.fleet.current()!.motor.poles));
  }

  protected set(changes: Partial<ControllerPlan>): void {
    this.fleet.setController(changes);
  }
}
