import {ChangeDetectionStrategy, Component, computed, inject, model, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Dialog} from 'primeng/dialog';
import {InputText} from 'primeng/inputtext';
import {airframeOf} from '@core/craft/airframes';
import type {Craft} from '@core/craft/craft';
import type {OwnPreset} from '@core/craft/own-presets';
import {withEstimatedWinding} from '@core/motor/model';
import {copyOf, craftFromPreset, craftWithoutPlan, presets, type Preset} from '@core/craft/presets';
import {definitionOf, type ParameterKey} from '@core/settings/definitions';
import {firmwareName} from '@core/firmware/firmware-plan';
import {FleetStore} from '../state/fleet.store';
import {PresetStore} from '../state/preset.store';

/** Something a new craft can start from. */
interface StartingPlan {
  readonly id: string;
  readonly name: string;
  readonly about: string;
  readonly details: string;
  readonly reasons: readonly {readonly name: string; readonly text: string}[];
  readonly create: (identity: {readonly id: string; readonly name: string}) => Craft;
}

const details = ({plan, escBoard}: Pick<Craft, 'plan' | 'escBoard'>, airframe: string) =>
  `${firmwareName(plan.firmware)}, ${escBoard}, ${airframe}`;

const fromPreset = (preset: Preset): StartingPlan => ({
  ...preset,
  details: details(preset.craft, preset.airframe),
  reasons: Object.entries(preset.reasons).map(([key, text]) => ({name: definitionOf(key as ParameterKey).name, text})),
  create: (identity) => withEstimatedWinding(craftFromPreset(preset, identity)),
});

const fromOwn = ({id, name, note, craft}: OwnPreset): StartingPlan => ({
  id,
  name: `${name}, your own`,
  about: note || 'Kept from a craft of yours.',
  details: details(craft, airframeOf(craft.arms) ?? `${craft.arms.length} arms`),
  reasons: [],
  create: (identity) => copyOf(craft, identity),
});

const fromFound: StartingPlan = {
  id: 'found',
  name: 'What is found on the bench',
  about: 'No parameter is planned: after the survey, the Parameters station takes over what the ESCs hold.',
  details: 'enter motors, battery and boards on the Craft station',
  reasons: [],
  create: (identity) => withEstimatedWinding(craftWithoutPlan(identity)),
};

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
      @if (fault(); as text) {
        <p class="fault" role="status">{{ text }}</p>
      }
      <h2 id="start-from">Its plan starts from</h2>
      <div role="radiogroup" aria-labelledby="start-from">
        @for (preset of presets(); track preset.id) {
          <button
            type="button"
            role="radio"
            class="preset"
            [class.sel]="picked() === preset"
            [attr.aria-checked]="picked() === preset"
            (click)="pickedId.set(preset.id)"
          >
            <b>{{ preset.name }}</b>
            <span>{{ preset.about }}</span>
            <span class="n">{{ preset.details }}</span>
          </button>
        }
      </div>
      @if (picked().reasons.length) {
        <h2>Why it plans what it plans</h2>
        <ul>
          @for (reason of picked().reasons; track reason.name) {
            <li>
              <b>{{ reason.name }}</b> {{ reason.text }}
            </li>
          }
        </ul>
      }
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
      font-size: var(--fs-small);
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
      font-size: var(--fs-small);
    }
    ul {
      list-style: none;
      padding: var(--s2) 0;
      font-size: var(--fs-small);
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
      font-size: var(--fs-small);
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
  protected readonly presets = computed((): StartingPlan[] => [
    ...presets.map(fromPreset),
    ...this.own.all().map(fromOwn),
    fromFound,
  ]);
  protected readonly name = signal('');
  protected readonly pickedId = signal('five-inch');
  protected readonly picked = computed(
    () => this.presets().find((p) => p.id === this.pickedId()) ?? this.presets()[0]!,
  );
  protected readonly fault = computed(() => {
    const name = this.name().trim();
    return this.fleet.crafts().some((c) => c.name === name) ? `There is a craft called ${name} already.` : undefined;
  });

  protected create(): void {
    const name = this.name().trim();
    if (!name || this.fault()) return;
    this.fleet.add(this.picked().create({id: crypto.randomUUID(), name}));
    this.name.set('');
    this.visible.set(false);
  }
}
