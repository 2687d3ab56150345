import {ChangeDetectionStrategy, Component, computed, inject, input, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {hexFile, imageSheet, inspectorSheet, rawFile, type Inspected} from '@core/sheets/keeping/inspector';
import {download} from '../shared/download';
import {FleetStore} from '../state/fleet.store';
import {RecordStore} from '../state/record.store';
import {ShelfStore} from '../state/shelf.store';
import {PageMapComponent} from '../stations/firmware/page-map.component';
import {HexDifferenceComponent} from './hex-difference.component';

/** One image file laid open: format, segments, memory map, identity, digest, fit, and the difference to another one. */
@Component({
  selector: 'bx-inspector',
  imports: [FormsModule, Select, PageMapComponent, HexDifferenceComponent],
  templateUrl: './inspector.component.html',
  styleUrl: './inspector.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class InspectorComponent {
  readonly file = input.required<Inspected | undefined>();
  private readonly shelf = inject(ShelfStore);
  private readonly fleet = inject(FleetStore);
  private readonly record = inject(RecordStore);
  protected readonly against = signal<string | null>(null);

  private readonly image = computed(() => {
    const file = this.file();
    return file && imageSheet(file);
  });
  protected readonly sheet = computed(() => {
    const [file, image, images] = [this.file(), this.image(), this.shelf.images()];
    if (!file || !image) return undefined;
    return inspectorSheet(
      {
        ...{file, craft: this.fleet.current(), found: this.record.found(), against: this.against()},
        ...{releases: this.shelf.catalogue()?.releases ?? [], files: this.shelf.files()},
        imageIn: (sha256) => images[sha256],
      },
      image,
    );
  });

  protected saveHex(file: Inspected): void {
    const {name, content} = hexFile(file);
    download(name, content, 'text/plain');
  }

  protected saveRaw(file: Inspected): void {
    const raw = rawFile(file);
    if (raw) download(raw.name, raw.content);
  }
}
