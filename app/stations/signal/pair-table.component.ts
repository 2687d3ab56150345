import {ChangeDetectionStrategy, Component, ElementRef, computed, inject, input, output, signal} from '@angular/core';
import {samePair, type PairVerdict, type SignalPair} from '@core/controller/signal-pair';
import {pairText} from '@core/compare/signal-findings';
import {loadLimits} from '@core/dshot/loop-budget';
import {protocolName} from '@core/dshot/protocol';

const marks: Readonly<Record<PairVerdict['verdict'], string>> = {feasible: '●', tight: '◐', impossible: '✕'};

/** Every protocol at every loop rate: a mark, the figure that decides, and why; choosing one plans it. */
@Component({
  selector: 'bx-pair-table',
  template: `
    <table class="plain" aria-label="Protocols and loop rates">
      <thead>
        <tr>
          <th scope="col">Protocol</th>
          @for (rate of rates(); track rate) {
            <th scope="col">{{ rate / 1000 }} kHz</th>
          }
        </tr>
      </thead>
      <tbody>
        @for (row of rows(); track row.name; let r = $index) {
          <tr [class.begin]="row.begins">
            <th scope="row">{{ row.name }}</th>
            @for (v of row.cells; track v.pair.loopHz; let c = $index) {
              <td>
                <button
                  type="button"
                  [class]="v.verdict"
                  [class.planned]="isPlanned(v)"
                  [attr.aria-pressed]="isPlanned(v)"
                  [attr.aria-label]="name(v)"
                  [attr.data-cell]="r + ' ' + c"
                  [tabindex]="r === at()[0] && c === at()[1] ? 0 : -1"
                  (focus)="look(v, r, c)"
                  (mouseenter)="looked.set(v)"
                  (keydown)="move($event, r, c)"
                  (click)="chosen.emit(v.pair)"
                >
                  <b aria-hidden="true">{{ marks[v.verdict] }}</b> {{ figure(v) }}
                </button>
              </td>
            }
          </tr>
        }
      </tbody>
    </table>
    <p class="why">
      @if (shown(); as v) {
        <b>{{ pairText(v.pair) }}, {{ v.verdict }}.</b> {{ v.why }}
      }
    </p>
  `,
  styles: `
    table.plain td {
      padding: 0 var(--s1) 0 0;
      border: 0;
    }
    table.plain th[scope='row'] {
      font-size: var(--fs-small);
      color: var(--ink);
      padding: 0 var(--s4) 0 0;
      border: 0;
    }
    tr.begin th,
    tr.begin td {
      padding-top: var(--s3) !important;
    }
    button {
      width: 100%;
      min-height: 26px;
      border: 1px solid transparent;
      border-radius: 2px;
      background: none;
      font: var(--fs-note) var(--mono);
      text-align: left;
      white-space: nowrap;
      cursor: pointer;
    }
    b {
      font-weight: 400;
      display: inline-block;
      width: 13px;
    }
    .feasible {
      background: var(--moss-soft);
      color: var(--moss);
    }
    .tight {
      background: var(--ochre-soft);
      color: var(--ochre-ink);
    }
    .impossible {
      color: var(--copper);
    }
    .planned {
      border: 2px solid var(--petrol);
    }
    .why {
      font-size: var(--fs-small);
      min-height: 38px;
      padding-top: var(--s3);
      max-width: 96ch;
    }
    .why b {
      display: inline;
      font-weight: 650;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PairTableComponent {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  readonly verdicts = input.required<readonly PairVerdict[]>();
  readonly planned = input.required<SignalPair>();
  readonly chosen = output<SignalPair>();

  protected readonly marks = marks;
  protected readonly pairText = pairText;
  protected readonly looked = signal<PairVerdict | undefined>(undefined);
  private readonly focused = signal<readonly [number, number] | undefined>(undefined);

  protected readonly rates = computed(() => [...new Set(this.verdicts().map((v) => v.pair.loopHz))]);
  protected readonly rows = computed(() => {
    const rows = new Map<string, PairVerdict[]>();
    for (const v of this.verdicts()) {
      const name = `${protocolName[v.pair.protocol]}${v.pair.replies ? ' with replies' : ''}`;
      rows.set(name, [...(rows.get(name) ?? []), v]);
    }
    return [...rows].map(([name, cells]) => ({name, cells, begins: cells[0]!.pair.protocol === 'dshot150'}));
  });
  /** The one cell that the Tab key reaches. */
  protected readonly at = computed((): readonly [number, number] => {
    const focused = this.focused();
    if (focused) return focused;
    const row = this.rows().findIndex(({cells}) => cells.some((v) => this.isPlanned(v)));
    const column = row < 0 ? 0 : this.rows()[row]!.cells.findIndex((v) => this.isPlanned(v));
    return [Math.max(0, row), column];
  });
  protected readonly shown = computed(() => {
    const looked = this.looked()?.pair;
    const all = this.verdicts();
    return (looked && all.find((v) => samePair(v.pair, looked))) ?? all.find((v) => this.isPlanned(v));
  });

  protected isPlanned = ({pair}: PairVerdict): boolean => samePair(pair, this.planned());

  protected name = (v: PairVerdict): string => `${pairText(v.pair)}: ${v.verdict}. ${v.why}`;

  /** What decides, as short as a cell needs it. */
  protected figure({fault, verdict, slackUs, budget}: PairVerdict): string {
    if (fault === 'beyond the gyro') return 'gyro';
    if (fault === 'too fast for the ESC') return 'ESC';
    const isOfLoad = fault === 'overloaded' || (verdict === 'tight' && budget.load > loadLimits.good);
    if (isOfLoad) return `${(budget.load * 100).toFixed(0)} %`;
    if (slackUs < 0 && verdict !== 'impossible') return 'timer';
    return `${slackUs < 0 ? '−' : ''}${Math.abs(slackUs).toFixed(0)} µs`;
  }

  protected look(v: PairVerdict, row: number, column: number): void {
    this.looked.set(v);
    this.focused.set([row, column]);
  }

  protected move(event: KeyboardEvent, row: number, column: number): void {
    const step = {ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1]}[event.key];
    if (!step) return;
    event.preventDefault();
    const next = `${row + step[0]!} ${column + step[1]!}`;
    this.host.nativeElement.querySelector<HTMLElement>(`[data-cell="${next}"]`)?.focus();
  }
}
