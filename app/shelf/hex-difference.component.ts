import {ChangeDetectionStrategy, Component, computed, input} from '@angular/core';
import {TableModule} from 'primeng/table';
import type {Image} from '@core/firmware/image';
import {hexDifference, hexRowSheet, type HexRow} from '@core/sheets/keeping/hex-difference';

/** Two images byte by byte: how much differs, and the rows that hold a difference. */
@Component({
  selector: 'bx-hex-difference',
  imports: [TableModule],
  template: `
    @if (sheet().isEqual) {
      <p><span class="tag ok">✓ equal</span> Every byte is the same.</p>
    } @else {
      <p>
        <b class="n">{{ sheet().bytes }}</b> bytes differ, in <b class="n">{{ sheet().pages }}</b> pages of
        {{ pageBytes() }} B. {{ sheet().cut }}
      </p>
      <p-table
        [value]="sheet().rows"
        [paginator]="sheet().rows.length > 8"
        [rows]="8"
        [showPageLinks]="false"
        [showCurrentPageReport]="true"
        currentPageReportTemplate="rows {first} to {last} of {totalRecords}"
      >
        <ng-template #header>
          <tr>
            <th scope="col">Address</th>
            <th scope="col">This image, the other below</th>
          </tr>
        </ng-template>
        <ng-template #body let-address>
          @let line = row(address);
          <tr class="n">
            <td>{{ line.address }}</td>
            <td>
              @for (side of line.sides; track $index) {
                <div>
                  @for (byte of side; track $index) {
                    <span [class.off]="byte.differs">{{ byte.text }}</span>
                  }
                </div>
              }
            </td>
          </tr>
        </ng-template>
      </p-table>
    }
  `,
  styles: `
    p {
      padding: var(--s4) 0 var(--s2);
    }
    td {
      font-size: var(--fs-axis);
      vertical-align: top;
    }
    td div {
      display: grid;
      grid-template-columns: repeat(16, 1fr);
    }
    .off {
      background: var(--copper-soft);
      color: var(--copper);
      font-weight: 700;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class HexDifferenceComponent {
  readonly left = input.required<Image>();
  readonly right = input.required<Image>();
  readonly pageBytes = input.required<number>();
  protected readonly sheet = computed(() => hexDifference(this.left(), this.right(), this.pageBytes()));

  protected row(address: number): HexRow {
    return hexRowSheet(this.left(), this.right(), address);
  }
}
