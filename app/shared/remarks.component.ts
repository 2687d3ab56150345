import {ChangeDetectionStrategy, Component, input} from '@angular/core';
import type {Remark} from '@core/remark';

/** Sentences about what was found or planned, each with the word that says how it stands; nothing where there are none. */
@Component({
  selector: 'bx-remarks',
  template: `
    @if (remarks().length) {
      <ul>
        @for (remark of remarks(); track remark.text) {
          <li>
            <span class="tag" [class]="remark.tag">{{ remark.word }}</span> {{ remark.text }}
          </li>
        }
      </ul>
    }
  `,
  styles: `
    ul {
      list-style: none;
      margin: var(--s4) 0;
      padding: 0;
      font-size: var(--fs-body);
    }
    li {
      padding: var(--s1) 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RemarksComponent {
  readonly remarks = input.required<readonly Remark[]>();
}
