import {ChangeDetectionStrategy, Component, inject} from '@angular/core';
import {ProblemComponent} from '../../shared/problem.component';
import {SoundsComponent} from '../../shared/sounds.component';
import {BenchStore} from '../../state/bench.store';
import {EndsStore} from '../../state/spin/ends.store';
import {StandInStore} from '../../state/stand-in.store';

/** Throttle range: ends of every ESC as calibration left them, judged, and calibrated anew where they are analog. */
@Component({
  selector: 'bx-throttle-range',
  imports: [ProblemComponent, SoundsComponent],
  providers: [EndsStore],
  templateUrl: './throttle-range.component.html',
  styles: `
    .cols {
      display: grid;
      grid-template-columns: minmax(420px, 1.2fr) minmax(300px, 1fr);
      gap: var(--s8);
    }
    td,
    th {
      font-size: var(--fs-note);
    }
    td small {
      margin-left: var(--s2);
      font-size: var(--fs-note);
    }
    th.n {
      font-family: var(--sans);
    }
    caption {
      text-align: left;
      font-size: var(--fs-note);
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
      font-size: var(--fs-base);
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
  protected readonly ends = inject(EndsStore);
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
}
