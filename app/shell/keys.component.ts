import {ChangeDetectionStrategy, Component, model} from '@angular/core';
import {Dialog} from 'primeng/dialog';
import {keyLines} from '@core/words/keys';

/** The keys that do something, in one list. */
@Component({
  selector: 'bx-keys',
  imports: [Dialog],
  template: `
    <p-dialog
      header="Keys"
      closeAriaLabel="Close"
      [modal]="true"
      [draggable]="false"
      [(visible)]="visible"
      [style]="{width: '560px', maxWidth: '96vw'}"
    >
      <dl>
        @for (line of lines; track line.does) {
          <dt>
            @for (key of line.keys; track key) {
              <kbd>{{ key }}</kbd>
            }
          </dt>
          <dd>{{ line.does }}</dd>
        }
      </dl>
    </p-dialog>
  `,
  styles: `
    dl {
      display: grid;
      grid-template-columns: 140px 1fr;
      gap: var(--s4) var(--s6);
      font-size: var(--fs-body);
      margin: 0;
    }
    dt {
      display: flex;
      gap: var(--s2);
      align-items: flex-start;
    }
    dd {
      margin: 0;
    }
    kbd {
      font: 600 var(--fs-note) var(--mono);
      border: 1px solid var(--edge);
      border-bottom-width: 2px;
      border-radius: var(--r);
      padding: 0 var(--s3);
      background: var(--sheet);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class KeysComponent {
  readonly visible = model(false);
  protected readonly lines = keyLines;
}
