import {ChangeDetectionStrategy, Component, computed, inject, input, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {Select} from 'primeng/select';
import {chips, type Chip} from '@core/firmware/chips';
import {tellingReason} from '@core/firmware/fit';
import {signatureOf, type Identity} from '@core/firmware/identity';
import {extent, type Image} from '@core/firmware/image';
import {contentOf} from '@core/firmware/image-content';
import {writeIntelHex} from '@core/firmware/intel-hex';
import {planPages, regionOf, type ImagePart} from '@core/firmware/page-plan';
import {addressText} from '@core/hex';
import {writeRaw} from '@core/firmware/raw-bytes';
import {releaseName, type Release} from '@core/firmware/releases';
import {motorList} from '@core/words/motor-list';
import {firmwareText} from '@core/bench/found';
import {fitOf} from '@core/compare/esc-firmware';
import {download} from '../shared/download';
import {FleetStore} from '../state/fleet.store';
import {RecordStore} from '../state/record.store';
import {ShelfStore} from '../state/shelf.store';
import {PageMapComponent} from '../stations/firmware/page-map.component';
import type {InspectedFile} from '../workers/image-inspection';
import {HexDifferenceComponent} from './hex-difference.component';

export interface Inspected extends InspectedFile {
  /** Set for a release of the service. */
  readonly release: Release | undefined;
}

const formatNames = {'intel-hex': 'Intel HEX', 's-record': 'S-record', uf2: 'UF2', bin: 'raw bytes'} as const;

interface Home {
  readonly chip: Chip;
  readonly part: ImagePart;
  readonly identity: Identity;
}

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

  protected readonly format = computed(() => formatNames[this.file()?.reading.format ?? 'bin']);
  protected readonly segments = computed(() =>
    (this.file()?.reading.image.segments ?? []).map(({start, bytes}) => ({
      from: addressText(start),
      to: addressText(start + bytes.length - 1),
      bytes: bytes.length,
    })),
  );

  /** The chip and region whose identity block checks in this image. */
  protected readonly home = computed((): Home | undefined => {
    const image = this.file()?.reading.image;
    if (!image || !extent(image)) return undefined;
    for (const chip of Object.values(chips))
      for (const part of ['base', 'module'] as const) {
        if (part === 'module' && !chip.module) continue;
        const check = contentOf(image, chip, regionOf(chip, part)).identity;
        if (check.ok && check.value.chip === chip.name) return {chip, part, identity: check.value};
      }
    return undefined;
  });
  protected readonly identity = computed(() => {
    const identity = this.home()?.identity;
    if (!identity) return undefined;
    const {base, pwmKhz} = identity;
    return [
      ['Firmware', `${identity.family} ${identity.version}, ${identity.variant}`],
      ['Board signature', signatureOf(identity)],
      ['Settings layout', String(identity.layoutRevision)],
      ['Bootloader', `revision ${identity.bootRevision} or newer`],
      ...(pwmKhz === undefined ? [] : [['PWM build', `${pwmKhz} kHz`]]),
      ...(base ? [['Base firmware', `${identity.family} ${base.lowest} to ${base.highest}`]] : []),
      ['Features', identity.features.join(', ') || 'none'],
      ['Needs', this.file()?.release?.needsController ?? 'nothing of the flight controller'],
    ] as [string, string][];
  });
  protected readonly map = computed(() => {
    const home = this.home();
    return home && {chip: home.chip.name, plan: planPages(home.chip, this.file()!.reading.image, [], home.part)};
  });

  /** Verdict for each ESC of the craft in hand, as last found. */
  protected readonly fits = computed(() => {
    const [craft, found, file, home] = [this.fleet.current(), this.record.found(), this.file(), this.home()];
    if (!craft || !found || !file || file.reading.faults.length) return [];
    const {name, sha256, release} = file;
    const planned = {
      name,
      sha256,
      image: file.reading.image,
      standing: release?.standing,
      needsController: release?.needsController,
    };
    const own = found.escs.map((esc): {output: number; verdict: string; text: string} => {
      const {output} = esc;
      if (!esc.hardware) return {output, verdict: 'refused', text: 'Its board is not known.'};
      const fit = fitOf({craft, found, esc, planned, part: home?.part ?? 'base'});
      return {
        output,
        verdict: fit.verdict,
        text: tellingReason(fit)?.text ?? 'Board, flash, variant and settings hold.',
      };
    });
    // ESCs of which the same is to be said share a line.
    return [...new Set(own.map((f) => `${f.verdict} ${f.text}`))].map((key) => {
      const group = own.filter((f) => `${f.verdict} ${f.text}` === key);
      const motors = motorList(
        group.map((f) => f.output),
        found.escs.length,
      );
      return {motors, verdict: group[0]!.verdict, text: group[0]!.text};
    });
  });
  protected readonly craftName = computed(() => this.fleet.current()?.name ?? '');

  /** What the image can be held against: releases and own files, and pages of ESCs as last found. */
  protected readonly others = computed(() => {
    const own = this.file()?.sha256;
    const releases = (this.shelf.catalogue()?.releases ?? [])
      .filter((r) => r.sha256 !== own && this.shelf.images()[r.sha256])
      .map((r) => ({
        label: `${releaseName(r)}, ${r.board}${r.variant.startsWith('heli') ? `, ${r.variant}` : ''}`,
        value: r.sha256,
      }));
    const files = this.shelf
      .files()
      .filter((f) => f.sha256 !== own)
      .map((f) => ({label: f.name, value: f.sha256}));
    const escs = (this.record.found()?.escs ?? []).map((e) => ({
      label: `${this.craftName()} motor ${e.output + 1}: ${firmwareText(e)}`,
      value: `esc ${e.output}`,
    }));
    return [...files, ...escs, ...releases];
  });
  protected readonly other = computed((): Image | undefined => {
    const against = this.against();
    return against === null ? undefined : this.shelf.images()[against];
  });
  /** Pages that differ from what an ESC holds; its bytes are not known unless it was read out. */
  protected readonly escPages = computed(() => {
    const output = /^esc (\d+)$/.exec(this.against() ?? '')?.[1];
    const esc = this.record.found()?.escs.find((e) => String(e.output) === output);
    const home = this.home();
    if (!esc || !home || home.chip.name !== esc.boot.chip) return undefined;
    return {
      motor: esc.output + 1,
      chip: home.chip.name,
      plan: planPages(home.chip, this.file()!.reading.image, esc.pageCrcs, home.part),
    };
  });
  protected readonly escMismatch = computed(
    () => this.against()?.startsWith('esc ') === true && this.escPages() === undefined,
  );

  protected saveHex(): void {
    const file = this.file();
    if (file) download(`${stem(file.name)}.hex`, writeIntelHex(file.reading.image), 'text/plain');
  }

  protected readonly raw = computed(() => {
    const image = this.file()?.reading.image;
    const written = image && writeRaw(image);
    return written?.ok ? written.value : undefined;
  });
  protected readonly rawBase = computed(() => addressText(this.raw()?.base ?? 0));

  protected saveRaw(): void {
    const [file, raw] = [this.file(), this.raw()];
    if (file && raw) download(`${stem(file.name)} from ${this.rawBase()}.bin`, raw.bytes);
  }
}

const stem = (name: string) => name.replace(/\.[a-z0-9]{2,4}$/i, '');
