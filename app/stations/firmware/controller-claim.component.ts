import {ChangeDetectionStrategy, Component, computed, inject, input, signal} from '@angular/core';
import {FleetStore} from '../../state/fleet.store';
import {ShelfStore} from '../../state/shelf.store';
import {ClaimByNameComponent} from './claim-by-name.component';

/** For a flight controller whose loader does not report its board: a person reads the print on it and names it. */
@Component({
  selector: 'bx-controller-claim',
  imports: [ClaimByNameComponent],
  template: `
    <section class="gate bad" aria-label="Board of the flight controller">
      @if (claim(); as claim) {
        <b>Named {{ claim.board }} by {{ claim.by }}</b>
        Nothing in it confirms that. Its loader starts nothing that was made for another board.
        <button type="button" class="link" (click)="take(undefined)">Select another board</button>
      } @else {
        <b>The flight controller does not report its board</b>
        It holds somebody else's firmware or none (chip {{ chip() }}). Firmware for another board does not start, or
        drives the wrong pins. Read the marking on the board, find it here, and type its name.
        <table class="plain">
          <thead>
            <tr>
              <th>Board</th>
              <th>Print</th>
              <th>Its loader by hand</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            @for (board of boards(); track board.name) {
              <tr [class.sel]="picked() === board.name">
                <td>
                  <b class="name">{{ board.name }}</b>
                </td>
                <td class="n">{{ board.silkscreen }}</td>
                <td>{{ board.byHand === 'button' ? 'a button' : 'two pads' }}</td>
                <td>
                  <button
                    type="button"
                    class="btn"
                    [attr.aria-pressed]="picked() === board.name"
                    (click)="picked.set(board.name)"
                  >
                    {{ picked() === board.name ? '✓ This one' : 'This one' }}
                  </button>
                </td>
              </tr>
            } @empty {
              <tr>
                <td colspan="4">No board of the catalogue has this chip: its firmware is not at hand.</td>
              </tr>
            }
          </tbody>
        </table>
        @if (picked(); as board) {
          <bx-claim-by-name [board]="board" (confirmed)="take({board, by: $event, at: now()})" />
        }
      }
    </section>
  `,
  styles: `
    section {
      padding: var(--s6);
      margin-bottom: var(--s5);
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
export class ControllerClaimComponent {
  readonly chip = input.required<string>();
  private readonly fleet = inject(FleetStore);
  private readonly shelf = inject(ShelfStore);
  protected readonly picked = signal<string | undefined>(undefined);
  protected readonly claim = computed(() => this.fleet.current()!.controllerClaim);
  protected readonly boards = computed(() =>
    (this.shelf.catalogue()?.controllers?.boards ?? []).filter((b) => b.chip === this.chip()),
  );
  protected now = (): number => Date.now();

  protected take(controllerClaim: {board: string; by: string; at: number} | undefined): void {
    this.fleet.edit((c) => ({...c, controllerClaim}));
  }
}
