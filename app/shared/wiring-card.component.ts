import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {wiringSheet, wiringSigns, type WiringKind} from '@core/sheets/survey/wiring';
import {CraftQuestionStore} from '../state/craft-question.store';
import {ShelfStore} from '../state/shelf.store';

/** How to plug it in, drawn: each wire, the order, what the link has seen of it, and what lights and tones then mean. */
@Component({
  selector: 'bx-wiring-card',
  imports: [FormsModule, Select],
  template: `
    @if (sheet(); as card) {
      <details>
        <summary>How to plug it in</summary>
        <span id="wiring-kind" class="visually-hidden">Connection</span>
        <p-select
          ariaLabelledBy="wiring-kind"
          [options]="card.kinds"
          optionLabel="label"
          optionValue="value"
          appendTo="body"
          [ngModel]="card.kind"
          (ngModelChange)="picked.set($event)"
        />
        <div class="side-by-side">
          <svg viewBox="0 0 560 184" role="img" [attr.aria-label]="card.spoken">
            @for (wire of card.wires; track $index) {
              <g [class]="wire.kind">
                <line [attr.x1]="wire.from[0]" [attr.y1]="wire.from[1]" [attr.x2]="wire.to[0]" [attr.y2]="wire.to[1]" />
                <text [attr.x]="wire.at[0]" [attr.y]="wire.at[1]" text-anchor="middle">{{ wire.name }}</text>
              </g>
            }
            @for (part of card.parts; track part.name) {
              <rect [attr.x]="part.x" [attr.y]="part.y" [attr.width]="part.width" [attr.height]="part.height" />
              <text
                [attr.x]="part.x + part.width / 2"
                [attr.y]="part.y + part.height / 2 + 5"
                text-anchor="middle"
                class="name"
              >
                {{ part.name }}
              </text>
            }
          </svg>
          <ol>
            @for (line of card.lines; track line.text) {
              <li [class]="line.state" [attr.aria-current]="line.state === 'next' ? 'step' : null">
                <b>{{ line.text }}</b>
                <span class="tag" [class.ok]="line.state === 'seen'" [class.wait]="line.state === 'next'">{{
                  signs[line.state]
                }}</span>
                <small>{{ line.why }}</small>
              </li>
            }
          </ol>
        </div>
        @for (sign of card.signs; track sign.of) {
          <h3>{{ sign.of }}</h3>
          <dl>
            @for (line of sign.lines; track line.shows) {
              <dt>{{ line.shows }}</dt>
              <dd>{{ line.means }}</dd>
            }
          </dl>
        }
      </details>
    }
  `,
  styleUrl: './wiring-card.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WiringCardComponent {
  private readonly questions = inject(CraftQuestionStore);
  private readonly shelf = inject(ShelfStore);
  protected readonly picked = signal<WiringKind | undefined>(undefined);
  protected readonly signs = wiringSigns;
  protected readonly sheet = computed(() => {
    const q = this.questions.question();
    return q && wiringSheet(q, this.picked(), this.shelf.catalogue());
  });
}
