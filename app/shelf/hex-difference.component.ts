import {ChangeDetectionStrategy, Component, computed, input} from '@angular/core';
import {TableModule} from 'primeng/table';
import {compareImages, differingPages, differingRows, hexRow} from '@core/firmware/compare-images';
import type {Image} from '@core/firmware/image';
import {addressText, hexOf} from '@core/hex';
import {grouped} from '@core/words/grouped';

/** Most rows of the hex view; what lies beyond is counted, not shown. */
const maxRows = 4096;

/** Two images byte by byte: how much differs, and the rows that hold a difference. */
@Component({
  selector: 'bx-hex-difference',
  imports: [TableModule],
  template: `
    @if (difference().equal) {
      <p><span class="tag ok">✓ equal</span> Every byte is the same.</p>
    } @else {
      <p>
        <b class="n">{{ grouped(difference().differingBytes) }}</b> bytes differ, in
        <b class="n">{{ pages() }}</b> pages of {{ pageBytes() }} B.
        @if (isCut()) {
          The first {{ rows().length }} rows are shown.
        }
      </p>
      <p-table
        [value]="rows()"
        [paginator]="rows().length > 8"
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
          <tr class="n">
            <td>{{ addressText(address) }}</td>
            <td>
              @for (side of sides(address); track $index) {
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
  protected readonly addressText = addressText;
  protected readonly difference = computed(() => compareImages(this.left(), this.right()));
  protected readonly grouped = grouped;
  protected readonly rows = computed(() => differingRows(this.difference(), maxRows));
  protected readonly isCut = computed(() => this.rows().length === maxRows);
  protected readonly pages = computed(() => differingPages(this.difference(), this.pageBytes()).length);

  protected sides(address: number): {text: string; differs: boolean}[][] {
    const {left, right} = hexRow(this.left(), this.right(), address);
    return [left, right].map((side) =>
      side.map((byte, i) => ({text: byte === null ? '··' : hexOf(byte, 2), differs: left[i] !== right[i]})),
    );
  }
}
