import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {RouterLink} from '@angular/router';
import {stationTitles} from '@core/words/station-names';
import {signOffSheet, type LineKind, type ProofLine} from '@core/sheets/order/sign-off';
import {standingTag, standingWord} from '@core/words/standing-words';
import {momentText} from '@core/words/moment';
import {FleetStore} from '../../state/fleet.store';
import {CraftQuestionStore} from '../../state/craft-question.store';

/** Sign-off: the list of proofs, with what is still open and where to get it. */
@Component({
  selector: 'bx-sign-off',
  imports: [RouterLink],
  templateUrl: './sign-off.component.html',
  styles: `
    table {
      max-width: 1000px;
    }
    .sum {
      font-size: var(--fs-base);
      padding: var(--s5) 0 var(--s6);
    }
    .when {
      white-space: nowrap;
    }
    td:first-child {
      width: 90px;
    }
    td b {
      font-weight: 600;
    }
    th[scope='rowgroup'] {
      padding-top: var(--s8);
    }
    td small {
      display: block;
    }
    .acts {
      margin-bottom: var(--s5);
    }
    .head {
      display: none;
      font-size: var(--fs-body);
      padding-bottom: var(--s5);
    }
    @media print {
      .head {
        display: block;
      }
      .acts {
        display: none;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignOffComponent {
  protected readonly fleet = inject(FleetStore);
  private readonly route = inject(CraftQuestionStore);

  protected readonly word: Readonly<Record<LineKind, string>> = {...standingWord, wrong: '✗ must not fly'};
  protected readonly tag: Readonly<Record<LineKind, string>> = {...standingTag, wrong: 'diff'};
  protected readonly sheet = computed(() => {
    const q = this.route.question()!;
    return signOffSheet(q, q.standings, q.states);
  });
  /** What sign-off waits for, and under its own title what two flights proved: that comes after sign-off. */
  protected readonly groups = computed(
    (): readonly {readonly title: string; readonly lines: readonly ProofLine[]}[] => {
      const {lines, inFlight} = this.sheet();
      return [{title: '', lines}, ...(inFlight.length ? [{title: 'Measured in flight', lines: inFlight}] : [])];
    },
  );
  protected readonly titles = stationTitles;

  protected readonly when = momentText;
  protected readonly printedAt = signal(Date.now());

  /** One sheet of paper: the list as it stands, with the craft and the moment. */
  protected print(): void {
    this.printedAt.set(Date.now());
    setTimeout(() => window.print());
  }
}
