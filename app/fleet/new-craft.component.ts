import {ChangeDetectionStrategy, Component, computed, inject, model, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Router} from '@angular/router';
import {Dialog} from 'primeng/dialog';
import {InputText} from 'primeng/inputtext';
import {newCraft, newCraftSheet} from '@core/sheets/keeping/new-craft';
import {FleetStore} from '../state/fleet.store';
import {PresetStore} from '../state/preset.store';

/** Dialog for a new craft: its name, and the preset its plan starts from, with the reasons. */
@Component({
  selector: 'bx-new-craft',
  imports: [FormsModule, Dialog, InputText],
  template: `
    <p-dialog
      header="New craft"
      closeAriaLabel="Close"
      [modal]="true"
      [draggable]="false"
      [(visible)]="visible"
      [style]="{width: '820px', maxWidth: '96vw'}"
    >
      <label for="new-name">Name</label>
      <input pInputText id="new-name" maxlength="40" [ngModel]="name()" (ngModelChange)="name.set($event)" />
      @if (sheet().fault; as text) {
        <p class="fault" role="status">{{ text }}</p>
      }
      <h2 id="start-from">Its plan starts from</h2>
      <div role="radiogroup" aria-labelledby="start-from">
        @for (preset of sheet().plans; track preset.id) {
          <button
            type="button"
            role="radio"
            class="preset"
            [class.sel]="sheet().picked.id === preset.id"
            [attr.aria-checked]="sheet().picked.id === preset.id"
            (click)="pickedId.set(preset.id)"
          >
            <b>{{ preset.name }}</b>
            <span>{{ preset.about }}</span>
            <span class="n">{{ preset.details }}</span>
          </button>
        }
      </div>
      @if (sheet().picked.reasons.length) {
        <h2>Why it plans what it plans</h2>
        <ul>
          @for (reason of sheet().picked.reasons; track reason.name) {
            <li>
              <b>{{ reason.name }}</b> {{ reason.text }}
            </li>
          }
        </ul>
      }
      <div class="acts">
        <button type="button" class="btn" (click)="visible.set(false)">Cancel</button>
        <button type="button" class="btn full" [disabled]="!sheet().canCreate" (click)="create()">
          {{ sheet().create }}
        </button>
      </div>
    </p-dialog>
  `,
  styles: `
    label {
      display: block;
      font-size: var(--fs-note);
      color: var(--ink-2);
    }
    input {
      width: 100%;
    }
    [role='radiogroup'] {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: var(--s3) var(--s4);
      padding-top: var(--s3);
    }
    .preset {
      display: block;
      width: 100%;
      text-align: left;
      background: var(--sheet);
      border: 1px solid var(--rule);
      padding: var(--s4) var(--s5);
      cursor: pointer;
      font-size: var(--fs-body);
    }
    .preset.sel {
      border: 2px solid var(--petrol);
      padding: var(--s4) var(--s5);
    }
    .preset span {
      display: block;
      color: var(--ink-2);
      font-size: var(--fs-note);
    }
    ul {
      list-style: none;
      padding: var(--s2) 0;
      font-size: var(--fs-note);
      color: var(--ink-2);
      min-height: 84px;
    }
    li {
      padding: var(--s1) 0;
    }
    li b {
      color: var(--ink);
    }
    .fault {
      color: var(--copper);
      font-size: var(--fs-note);
    }
    .acts {
      display: flex;
      justify-content: flex-end;
      gap: var(--s4);
      padding-top: var(--s4);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NewCraftComponent {
  readonly visible = model(false);
  private readonly fleet = inject(FleetStore);
  private readonly own = inject(PresetStore);
  private readonly router = inject(Router);
  protected readonly name = signal('');
  protected readonly pickedId = signal('five-inch');
  protected readonly sheet = computed(() =>
    newCraftSheet(this.own.all(), this.fleet.crafts(), {pickedId: this.pickedId(), typed: this.name()}),
  );

  protected create(): void {
    if (!this.sheet().canCreate) return;
    const identity = {id: crypto.randomUUID(), name: this.name().trim()};
    this.fleet.add(newCraft(this.sheet().picked.id, this.own.all(), identity));
    this.name.set('');
    this.visible.set(false);
    // Motors, battery and boards are asked for there.
    void this.router.navigate(['/craft', identity.id, 'craft']);
  }
}
