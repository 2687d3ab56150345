import {ChangeDetectionStrategy, Component, inject} from '@angular/core';
import {TextFieldComponent} from '../../shared/text-field.component';
import {FleetStore} from '../../state/fleet.store';
import {CraftStore} from './craft.store';

/** A single ESC on the bench in place of a craft: its name, and what is known of it without being asked. */
@Component({
  selector: 'bx-loose-esc',
  imports: [TextFieldComponent],
  template: `
    @if (fleet.current(); as esc) {
      <h1>One ESC on the bench</h1>
      <p>
        Without a craft: it is read, written and set on a single-wire adapter. Its board, chip and serial are read from
        it; motors, pack and flight controller come when it is mounted.
      </p>
      @if (edit.fault(); as fault) {
        <div class="gate bad" role="alert">{{ fault }}</div>
      }
      <div class="form">
        <bx-text-field
          name="name"
          label="Name"
          [longest]="40"
          [value]="esc.name"
          (changed)="edit.set({name: $event})"
        />
        <bx-text-field
          name="kind"
          label="What it is"
          [longest]="60"
          [value]="esc.kind"
          (changed)="edit.set({kind: $event})"
        />
      </div>
    }
  `,
  styles: `
    .form {
      display: grid;
      grid-template-columns: 160px minmax(0, 420px);
      gap: var(--s4) var(--s5);
      align-items: center;
      padding-top: var(--s6);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LooseEscComponent {
  protected readonly fleet = inject(FleetStore);
  protected readonly edit = inject(CraftStore);
}
