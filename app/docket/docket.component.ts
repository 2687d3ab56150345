import {NgTemplateOutlet} from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import {RouterLink} from '@angular/router';
import {docketSheet, orderStart} from '@core/sheets/order/docket';
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
import {CraftQuestionStore} from '../state/craft-question.store';
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
  private readonly route = inject(CraftQuestionStore);
  protected readonly craft = this.fleet.current;
  private readonly question = this.route.question;
  protected readonly sheet = computed(() => docketSheet(this.question()!, this.work.now()));
  protected readonly start = computed(() => orderStart(this.sheet(), this.question()!.bench, this.bench.power()));

  private readonly scroll = viewChild<ElementRef<HTMLElement>>('scroll');
  protected readonly narrow = narrowScreen();
  /** On a narrow screen, and where there is nothing to do, the docket leaves its room to the sheet. */
  protected readonly foldable = computed(() => this.narrow() || this.sheet().isIdle);
  /** A foldable docket that a person opened. */
  protected readonly unfolded = signal(false);

  constructor() {
    // What waits for a person is not left folded away.
    effect(() => {
      if (this.work.progress()?.waitsFor) this.unfolded.set(true);
    });
    // Another order is looked at from its begin.
    effect(() => {
      const steps = this.scroll()?.nativeElement;
      if (steps && !this.work.open()) steps.scrollTop = 0;
    });
    const current = computed(() => this.work.progress()?.stepId);
    effect(() => {
      const id = current();
      if (id) document.getElementById(`step-${id}`)?.scrollIntoView({block: 'center'});
    });
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
}
