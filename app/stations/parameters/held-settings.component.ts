import {ChangeDetectionStrategy, Component, effect, inject, signal, untracked} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {InputText} from 'primeng/inputtext';
import type {SettingValue} from '@core/link/setting-shapes';
import {
  editsTo,
  heldSettingsSheet,
  withPlannedSettings,
  type PlanAs,
  type SettingEdits,
  type SettingsFilter,
} from '@core/sheets/parameters/held-settings';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FleetStore} from '../../state/fleet.store';
import {SnapshotStore} from '../../state/snapshot.store';
import {RemarksComponent} from '../../shared/remarks.component';
import {PlacesMapComponent} from './places-map.component';
import {SettingEditorComponent} from './setting-editor.component';

/** What the flight controller holds beside the fields of the plan, section by section: seen, and planned line by line. */
@Component({
  selector: 'bx-held-settings',
  imports: [FormsModule, InputText, PlacesMapComponent, RemarksComponent, SettingEditorComponent],
  templateUrl: './held-settings.component.html',
  styleUrl: './held-settings.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class HeldSettingsComponent {
  private readonly fleet = inject(FleetStore);
  private readonly snapshots = inject(SnapshotStore);
  private readonly question = inject(CraftQuestionStore);
  protected readonly text = signal('');
  protected readonly only = signal<SettingsFilter | undefined>(undefined);
  private readonly opened = signal<string | undefined>(undefined);
  protected readonly sheet = this.question.sheet((q) =>
    heldSettingsSheet(q, {
      ...{text: this.text(), only: this.only(), opened: this.opened()},
      snapshots: this.snapshots.listed(),
    }),
  );

  constructor() {
    effect(() => {
      const {id} = this.fleet.current()!;
      untracked(() => void this.snapshots.load(id));
    });
  }

  protected open(key: string): void {
    this.opened.update((now) => (now === key ? undefined : key));
  }

  protected showOnly(only: SettingsFilter): void {
    this.only.update((now) => (now === only ? undefined : only));
  }

  protected plan(key: string, value: SettingValue | undefined): void {
    this.planEdits({[key]: value});
  }

  protected planAll(keys: readonly string[], to: PlanAs): void {
    this.planEdits(editsTo(this.question.question()!, keys, to));
  }

  protected planEdits(edits: SettingEdits): void {
    const q = this.question.question()!;
    this.fleet.edit((craft) => withPlannedSettings(craft, q, edits));
  }
}
