import {ChangeDetectionStrategy, Component, ElementRef, computed, inject, input, output, signal} from '@angular/core';
import type {ControllerPlan, PairCell, PairsSheet} from '@core/sheets/signal/signal-budget';

/** Every protocol at every loop rate: a mark, the figure that decides, and why; choosing one plans it. */
@Component({
  selector: 'bx-pair-table',
  template: `
    <table class="plain" aria-label="Protocols and loop rates">
      <thead>
        <tr>
          <th scope="col">Protocol</th>
          @for (rate of pairs().rates; track rate) {
            <th scope="col">{{ rate }}</th>
          }
        </tr>
      </thead>
      <tbody>
        @for (row of pairs().rows; track row.name; let r = $index) {
          <tr [class.begin]="row.begins">
            <th scope="row">{{ row.name }}</th>
            @for (cell of row.cells; track cell.loopHz; let c = $index) {
              <td>
                <button
                  type="button"
                  [class]="cell.verdict"
                  [class.planned]="cell.isPlanned"
                  [attr.aria-pressed]="cell.isPlanned"
                  [attr.aria-label]="cell.name + ': ' + cell.verdict + '. ' + cell.why"
                  [attr.data-cell]="r + ' ' + c"
                  [tabindex]="r === at()[0] && c === at()[1] ? 0 : -1"
                  (focus)="look(cell, r, c)"
                  (mouseenter)="looked.set(cell.name)"
                  (keydown)="move($event, r, c)"
                  (click)="chosen.emit(cell.change)"
                >
                  <b aria-hidden="true">{{ cell.mark }}</b> {{ cell.figure }}
                </button>
              </td>
            }
          </tr>
        }
      </tbody>
    </table>
    <p class="why">
      @if (shown(); as cell) {
        <b>{{ cell.name }}, {{ cell.verdict }}.</b> {{ cell.why }}
      }
    </p>
  `,
  styles: `
    table.plain td {
      padding: 0 var(--s1) 0 0;
      border: 0;
    }
    table.plain th[scope='row'] {
      font-size: var(--fs-note);
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
      font-size: var(--fs-note);
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
  readonly pairs = input.required<PairsSheet>();
  readonly chosen = output<Partial<ControllerPlan>>();

  protected readonly looked = signal<string | undefined>(undefined);
  private readonly focused = signal<readonly [number, number] | undefined>(undefined);

  /** The one cell that the Tab key reaches. */
  protected readonly at = computed((): readonly [number, number] => {
    const focused = this.focused();
    if (focused) return focused;
    const {rows} = this.pairs();
    const row = rows.findIndex(({cells}) => cells.some((cell) => cell.isPlanned));
    return row < 0 ? [0, 0] : [row, rows[row]!.cells.findIndex((cell) => cell.isPlanned)];
  });
  protected readonly shown = computed(() => {
    const all = this.pairs().rows.flatMap(({cells}) => cells);
    return all.find((cell) => cell.name === this.looked()) ?? all.find((cell) => cell.isPlanned);
  });

  protected look({name}: PairCell, row: number, column: number): void {
    this.looked.set(name);
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
