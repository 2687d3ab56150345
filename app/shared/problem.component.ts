import {ChangeDetectionStrategy, Component, booleanAttribute, input, output} from '@angular/core';
import type {Problem} from '@core/problem';

/** A problem with its place, what it means and what to do. */
@Component({
  selector: 'bx-problem',
  template: `
    <div class="gate bad" role="alert">
      <b>{{ problem().place }}</b>
      {{ problem().meaning }} <span class="quiet">{{ problem().remedy }}</span>&ngsp;
      @if (closable()) {
        <button type="button" class="link" (click)="closed.emit()">Close</button>
      }
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ProblemComponent {
  readonly problem = input.required<Problem>();
  readonly closable = input(false, {transform: booleanAttribute});
  readonly closed = output();
}
