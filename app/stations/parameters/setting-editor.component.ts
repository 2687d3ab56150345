import {ChangeDetectionStrategy, Component, computed, input, output} from '@angular/core';
import type {SettingKind, SettingValue} from '@core/link/setting-shapes';
import {gridOf, withGridEdit} from '@core/sheets/parameters/setting-editor';
import {SettingFieldComponent} from './setting-field.component';

/** Edits the planned value of a setting of the flight controller: one field, or the rows of a list or a table. */
@Component({
  selector: 'bx-setting-editor',
  imports: [SettingFieldComponent],
  template: `
    @if (grid(); as g) {
      <table>
        <thead>
          <tr>
            @for (column of g.columns; track column.head) {
              <th scope="col">{{ column.head }}</th>
            }
            <th scope="col"><span class="visually-hidden">take out</span></th>
          </tr>
        </thead>
        <tbody>
          @for (row of g.rows; track $index; let r = $index) {
            <tr>
              @for (cell of row; track $index; let c = $index) {
                <td>
                  <bx-setting-field
                    [name]="name() + ', row ' + (r + 1) + ', ' + g.columns[c]!.head"
                    [kind]="g.columns[c]!.kind"
                    [value]="cell"
                    (changed)="edit({row: r, column: c, value: $event})"
                  />
                </td>
              }
              <td>
                <button
                  type="button"
                  class="link"
                  [attr.aria-label]="'Take out row ' + (r + 1)"
                  (click)="edit({remove: r})"
                >
                  take out
                </button>
              </td>
            </tr>
          }
        </tbody>
      </table>
      <button type="button" class="btn" [disabled]="!g.canAdd" (click)="edit('add')">Add a row</button>
    } @else {
      <bx-setting-field
        [name]="name()"
        [kind]="$any(kind())"
        [value]="$any(value())"
        (changed)="changed.emit($event)"
      />
    }
  `,
  styles: `
    table {
      border-collapse: collapse;
      font-size: var(--fs-note);
      margin-bottom: var(--s4);
    }
    th,
    td {
      text-align: left;
      font-weight: 400;
      padding: var(--s1) var(--s4) var(--s1) 0;
      vertical-align: middle;
    }
    th {
      color: var(--ink-2);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SettingEditorComponent {
  readonly name = input.required<string>();
  readonly kind = input.required<SettingKind>();
  readonly value = input.required<SettingValue>();
  readonly changed = output<SettingValue>();

  protected readonly grid = computed(() => gridOf(this.kind(), this.value()));

  protected edit(edit: Parameters<typeof withGridEdit>[2]): void {
    this.changed.emit(withGridEdit(this.kind(), this.value(), edit));
  }
}
