import {ChangeDetectionStrategy, Component, computed, inject, input, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {InputText} from 'primeng/inputtext';
import type {Board} from '@core/firmware/releases';
import type {FoundEsc} from '@core/bench/found';
import {RecordStore} from '../../state/record.store';
import {ShelfStore} from '../../state/shelf.store';
import {ClaimByNameComponent} from './claim-by-name.component';

/** For an ESC that cannot tell its board: a person finds it in the catalogue, types its name, and says who they are. */
@Component({
  selector: 'bx-board-claim',
  imports: [ClaimByNameComponent, FormsModule, InputText],
  template: `
    <section class="gate bad" [attr.aria-label]="'Board of motor ' + (esc().output + 1)">
      <b>Motor {{ esc().output + 1 }} does not report its board</b>
      It {{ esc().boot.applicationValid ? 'runs foreign firmware' : 'holds no firmware' }} and no earlier survey knew it
      (chip {{ esc().boot.chip }}, serial <span class="n">{{ esc().boot.serial }}</span>). A wrong board burns the
      bridge at the first spin. Read the marking on the board, find it here, and type its name.
      <div class="find">
        <input
          pInputText
          type="search"
          [attr.aria-label]="'Search boards for motor ' + (esc().output + 1)"
          placeholder="print on the board, name, feature"
          [ngModel]="search()"
          (ngModelChange)="search.set($event)"
        />
      </div>
      <table class="plain">
        <thead>
          <tr>
            <th>Board</th>
            <th>Print</th>
            <th>What it is</th>
            <th>Cells, current</th>
            <th>Dead time</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          @for (board of boards(); track board.name) {
            <tr [class.sel]="picked()?.name === board.name">
              <td>
                <b class="name">{{ board.name }}</b>
              </td>
              <td class="n">{{ board.silkscreen }}</td>
              <td>
                {{ board.kind }}<small>{{ board.features.join(', ') }}</small>
              </td>
              <td class="n">{{ board.cells }}, {{ board.amps }} A</td>
              <td class="n">{{ board.deadTimeNs }} ns</td>
              <td>
                <button
                  type="button"
                  class="btn"
                  [attr.aria-pressed]="picked()?.name === board.name"
                  (click)="picked.set(board)"
                >
                  {{ picked()?.name === board.name ? '✓ This one' : 'This one' }}
                </button>
              </td>
            </tr>
          } @empty {
            <tr>
              <td colspan="6">No {{ esc().boot.chip }} board in the catalogue matches "{{ search() }}".</td>
            </tr>
          }
        </tbody>
      </table>
      @if (picked(); as board) {
        <bx-claim-by-name [board]="board.name" (confirmed)="confirm(board, $event)" />
      }
    </section>
  `,
  styles: `
    section {
      padding: var(--s6) var(--s6);
    }
    .find {
      padding: var(--s4) 0 var(--s2);
    }
    .find input {
      width: 320px;
    }
    small {
      display: block;
      color: var(--ink-2);
    }
    .name {
      display: inline;
    }
    tr.sel {
      background: var(--petrol-soft);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BoardClaimComponent {
  readonly esc = input.required<FoundEsc>();
  private readonly shelf = inject(ShelfStore);
  private readonly record = inject(RecordStore);
  protected readonly search = signal('');
  protected readonly picked = signal<Board | undefined>(undefined);

  /** Boards with this ESC's chip whose name, print, kind or features hold every word of the search. */
  protected readonly boards = computed(() => {
    const words = this.search().toLowerCase().split(/\s+/).filter(Boolean);
    return (this.shelf.catalogue()?.boards ?? []).filter((b) => {
      const text = [b.name, b.silkscreen, b.kind, b.cells, ...b.features].join(' ').toLowerCase();
      return b.chip === this.esc().boot.chip && words.every((word) => text.includes(word));
    });
  });

  protected confirm({name, chip, deadTimeNs}: Board, by: string): void {
    const {serial} = this.esc().boot;
    void this.record.addClaim({serial, board: name, chip, deadTimeNs, by, at: Date.now()});
  }
}
