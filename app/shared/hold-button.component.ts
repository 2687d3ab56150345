import {ChangeDetectionStrategy, Component, effect, input, output} from '@angular/core';

/** A button that acts while it is held, by pointer or by the Enter key; letting go in any way ends it. */
@Component({
  selector: 'bx-hold-button',
  template: `
    <button
      type="button"
      class="hold"
      [disabled]="disabled()"
      [style.--share.%]="share() * 100"
      (pointerdown)="begin($event)"
      (pointerup)="end()"
      (pointercancel)="end()"
      (lostpointercapture)="end()"
      (blur)="end()"
      (keydown.enter)="key($event)"
      (keyup.enter)="end()"
      (contextmenu)="$event.preventDefault()"
    >
      <ng-content />
    </button>
  `,
  styles: `
    .hold {
      width: 100%;
      min-height: 66px;
      border: 2px solid var(--petrol);
      border-radius: var(--r);
      padding: var(--s3) var(--s6);
      cursor: pointer;
      touch-action: none;
      user-select: none;
      background: linear-gradient(90deg, var(--petrol-soft) var(--share), var(--sheet) var(--share));
      font: 650 var(--fs-base) var(--sans);
      color: var(--petrol);
    }
    .hold ::ng-deep small {
      display: block;
      font: 400 var(--fs-note) var(--sans);
      color: var(--ink-2);
    }
    .hold:disabled {
      border-color: var(--rule);
      color: var(--ink-2);
      background: var(--tint);
      cursor: not-allowed;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class HoldButtonComponent {
  readonly share = input(0);
  readonly disabled = input(false);
  readonly pressed = output();
  readonly released = output();
  private held = false;

  constructor() {
    // A button that is not to be held any more sends no pointer events either: it lets go by itself.
    effect(() => {
      if (this.disabled()) this.end();
    });
  }

  protected begin(event: PointerEvent): void {
    // A second finger or another button is not the hold: it neither begins nor ends it.
    if (event.button !== 0 || event.isPrimary === false) return;
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    this.start();
  }

  protected key(event: Event): void {
    event.preventDefault();
    if (!(event as KeyboardEvent).repeat) this.start();
  }

  protected end(): void {
    if (!this.held) return;
    this.held = false;
    this.released.emit();
  }

  private start(): void {
    if (this.held || this.disabled()) return;
    this.held = true;
    this.pressed.emit();
  }
}
