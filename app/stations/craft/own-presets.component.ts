import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Dialog} from 'primeng/dialog';
import {InputText} from 'primeng/inputtext';
import {Select} from 'primeng/select';
import {applyPreset, craftChanges, presetParts, type OwnPreset, type PresetPart} from '@core/craft/own-presets';
import {craftFromPreset, presets} from '@core/craft/presets';
import {FleetStore} from '../../state/fleet.store';
import {PresetStore} from '../../state/preset.store';

/** Presets of the classes, as something that can be applied part by part. */
const classes: readonly OwnPreset[] = presets.map((p) => ({
  id: p.id,
  name: p.name,
  note: p.about,
  at: 0,
  craft: craftFromPreset(p, {id: p.id, name: p.name}),
}));

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

  protected readonly choices = computed(() => [
    ...this.presets.all().map((p) => ({label: `${p.name}, your own`, value: p.id})),
    ...classes.map((p) => ({label: p.name, value: p.id})),
  ]);
  protected readonly picked = computed(() => [...this.presets.all(), ...classes].find((p) => p.id === this.pickedId()));
  protected readonly isOwn = computed(() => this.presets.all().some((p) => p.id === this.pickedId()));
  private readonly applied = computed(() => {
    const [craft, preset] = [this.fleet.current(), this.picked()];
    return craft && preset && applyPreset(craft, preset, this.pickedParts());
  });
  protected readonly changes = computed(() => {
    const [craft, applied] = [this.fleet.current(), this.applied()];
    return craft && applied ? craftChanges(craft, applied) : [];
  });

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
    const applied = this.applied();
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
