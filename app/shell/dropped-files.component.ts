import {ChangeDetectionStrategy, Component, computed, inject, linkedSignal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import type {FileKind} from '@core/dropped-files/kinds';
import {ProblemComponent} from '../shared/problem.component';
import {FileInbox, type FileQuestion} from '../state/file-inbox';
import {FleetStore} from '../state/fleet.store';

/** What dropped files wait for: to be told what they are, a craft, or that their station is opened. */
@Component({
  selector: 'bx-dropped-files',
  imports: [FormsModule, Select, ProblemComponent],
  template: `
    @if (inbox.problem(); as trouble) {
      <bx-problem [problem]="trouble" closable (closed)="inbox.clearProblem()" />
    }
    @if (inbox.question(); as q) {
      <div class="gate wait" role="status">
        <b>{{ q.file.name }}</b>
        <span>{{ questionText(q) }}</span>
        @if (q.needsCraft) {
          <span id="dropped-craft" class="visually-hidden">Craft</span>
          <p-select
            ariaLabelledBy="dropped-craft"
            [options]="crafts()"
            optionLabel="label"
            optionValue="value"
            appendTo="body"
            [ngModel]="craftId()"
            (ngModelChange)="craftId.set($event)"
          />
        }
        @for (kind of q.kinds; track kind) {
          <button type="button" class="btn" [class.full]="$first" (click)="answer(q, kind)">Open as {{ kind }}</button>
        }
        <button type="button" class="btn" (click)="inbox.leave()">Do not open it</button>
      </div>
    }
    @for (waiting of inbox.waiting(); track waiting.file) {
      <div class="gate late" role="status">
        <b>{{ waiting.file.name }}</b> is {{ article(waiting.kind) }} {{ waiting.kind }} and has not been opened yet.
        <button type="button" class="link" (click)="inbox.goTo(waiting)">Open it</button>
      </div>
    }
  `,
  styles: `
    :host {
      display: block;
      padding: 0 var(--s8);
      background: var(--sheet);
    }
    .gate {
      display: flex;
      align-items: center;
      flex-wrap: wrap;
      gap: var(--s4);
      margin: var(--s4) 0;
    }
    /* A file whose station is in view is taken at once: then nothing has to be said. */
    .late {
      animation: appear 0s 600ms both;
    }
    @keyframes appear {
      from {
        display: none;
        visibility: hidden;
        position: absolute;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DroppedFilesComponent {
  protected readonly inbox = inject(FileInbox);
  private readonly fleet = inject(FleetStore);
  protected readonly crafts = computed(() => this.fleet.crafts().map(({id, name}) => ({label: name, value: id})));
  protected readonly craftId = linkedSignal(() => this.fleet.currentId() ?? this.fleet.crafts()[0]?.id);

  protected answer({needsCraft}: FileQuestion, kind: FileKind): void {
    this.inbox.answer(kind, needsCraft ? this.craftId() : undefined);
  }

  protected questionText({kinds, needsCraft}: FileQuestion): string {
    if (kinds.length > 1) return needsCraft ? 'What is it, and of which craft?' : 'What is it?';
    return `A ${kinds[0]!}. Of which craft?`;
  }

  protected article = (kind: FileKind): string => (/^[aeiou]/.test(kind) ? 'an' : 'a');
}
