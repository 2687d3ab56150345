import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Dialog} from 'primeng/dialog';
import {InputText} from 'primeng/inputtext';
import {Select} from 'primeng/select';
import {presetParts, presetSheet, type PresetPart} from '@core/sheets/keeping/own-presets';
import {FleetStore} from '../../state/fleet.store';
import {PresetStore} from '../../state/preset.store';

/** Keeps the craft in hand as a preset, and applies one to it with a preview of what changes. */
@Component({
  selector: 'bx-own-presets',
  imports: [FormsModule, Dialog, InputText, Select],
  templateUrl: './own-presets.component.html',
  styleUrl: './own-presets.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OwnPresetsComponent {
  protected readonly fleet = inject(FleetStore);
  protected readonly presets = inject(PresetStore);
  protected readonly parts = presetParts;

  protected readonly keeping = signal(false);
  protected readonly name = signal('');
  protected readonly note = signal('');

  protected readonly applying = signal(false);
  protected readonly pickedId = signal<string | undefined>(undefined);
  protected readonly pickedParts = signal<readonly PresetPart[]>(['parameters']);

  protected readonly sheet = computed(() =>
    presetSheet(this.fleet.current()!, this.presets.all(), {id: this.pickedId(), parts: this.pickedParts()}),
  );

  protected openKeep(): void {
    this.name.set(this.fleet.current()?.kind ?? '');
    this.note.set('');
    this.keeping.set(true);
  }

  protected async keep(): Promise<void> {
    const name = this.name().trim();
    if (!name) return;
    await this.presets.keep(name, this.note().trim());
    this.keeping.set(false);
  }

  protected toggle(part: PresetPart): void {
    this.pickedParts.update((all) => (all.includes(part) ? all.filter((p) => p !== part) : [...all, part]));
  }

  protected apply(): void {
    const {applied} = this.sheet();
    if (!applied) return;
    this.fleet.edit(() => applied);
    this.applying.set(false);
  }

  protected async remove(): Promise<void> {
    const id = this.pickedId();
    if (id === undefined) return;
    this.pickedId.set(undefined);
    await this.presets.remove(id);
  }
}
