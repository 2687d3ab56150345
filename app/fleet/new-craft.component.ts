import {ChangeDetectionStrategy, Component, computed, inject, model, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Dialog} from 'primeng/dialog';
import {InputText} from 'primeng/inputtext';
import {craftFromPreset, presets, type Preset} from '@core/craft/presets';
import {definitionOf, type ParameterKey} from '@core/settings/definitions';
import {firmwareName} from '@core/craft/craft';
import {FleetStore} from '../state/fleet.store';

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
      [style]="{width: '640px'}"
    >
      <label for="new-name">Name</label>
      <input pInputText id="new-name" maxlength="40" [ngModel]="name()" (ngModelChange)="name.set($event)" />
      @if (fault(); as text) {
        <p class="fault" role="status">{{ text }}</p>
      }
      <h2 id="start-from">Its plan starts from</h2>
      <div role="radiogroup" aria-labelledby="start-from">
        @for (preset of presets; track preset.id) {
          <button
            type="button"
            role="radio"
            class="preset"
            [class.sel]="picked() === preset"
            [attr.aria-checked]="picked() === preset"
            (click)="picked.set(preset)"
          >
            <b>{{ preset.name }}</b>
            <span>{{ preset.about }}</span>
            <span class="n">{{ firmware(preset) }}, {{ preset.craft.escBoard }}, {{ preset.airframe }}</span>
          </button>
        }
      </div>
      <h2>Why it plans what it plans</h2>
      <ul>
        @for (reason of reasons(); track reason.name) {
          <li>
            <b>{{ reason.name }}</b> {{ reason.text }}
          </li>
        }
      </ul>
      <div class="acts">
        <button type="button" class="btn" (click)="visible.set(false)">Cancel</button>
        <button type="button" class="btn full" [disabled]="!!fault() || !name().trim()" (click)="create()">
          Create {{ name().trim() || 'craft' }}
        </button>
      </div>
    </p-dialog>
  `,
  styles: `
    label {
      display: block;
      font-size: 12.5px;
      color: var(--ink-2);
    }
    input {
      width: 100%;
    }
    .preset {
      display: block;
      width: 100%;
      text-align: left;
      background: var(--sheet);
      border: 1px solid var(--rule);
      padding: 8px 11px;
      margin-top: 6px;
      cursor: pointer;
      font-size: 13px;
    }
    .preset.sel {
      border: 2px solid var(--petrol);
      padding: 7px 10px;
    }
    .preset span {
      display: block;
      color: var(--ink-2);
      font-size: 12.5px;
    }
    ul {
      list-style: none;
      padding: 4px 0;
      font-size: 12.5px;
      color: var(--ink-2);
      min-height: 84px;
    }
    li {
      padding: 2px 0;
    }
    li b {
      color: var(--ink);
    }
    .fault {
      color: var(--copper);
      font-size: 12.5px;
    }
    .acts {
      display: flex;
      justify-content: flex-end;
      gap: 8px;
      padding-top: 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NewCraftComponent {
  readonly visible = model(false);
  private readonly fleet = inject(FleetStore);
  protected readonly presets = presets;
  protected readonly name = signal('');
  protected readonly picked = signal<Preset>(presets[1]!);
  protected readonly reasons = computed(() =>
    Object.entries(this.picked().reasons).map(([key, text]) => ({name: definitionOf(key as ParameterKey).name, text})),
  );
  protected readonly fault = computed(() => {
    const name = this.name().trim();
    return this.fleet.crafts().some((c) => c.name === name) ? `There is a craft called ${name} already.` : undefined;
  });

  protected firmware = (preset: Preset): string => firmwareName(preset.craft.plan.firmware);

  protected create(): void {
    const name = this.name().trim();
    if (!name || this.fault()) return;
    this.fleet.add(craftFromPreset(this.picked(), {id: crypto.randomUUID(), name}));
    this.name.set('');
    this.visible.set(false);
  }
}
