import {ChangeDetectionStrategy, Component, computed, inject, signal} from '@angular/core';
import {FormsModule} from '@angular/forms';
import {SelectButton} from 'primeng/selectbutton';
import {TableModule} from 'primeng/table';
import {findChip} from '@core/firmware/chips';
import {judgeFit, type Fit, type FitReason} from '@core/firmware/fit';
import {planPages} from '@core/firmware/page-plan';
import type {Release} from '@core/firmware/releases';
import {carryOver} from '@core/settings/carry-over';
import {definitionOf, isLayoutRevision, type ParameterKey} from '@core/settings/definitions';
import {checkApplication} from '@core/firmware/identity';
import {flatten} from '@core/firmware/image';
import type {FoundEsc} from '@core/work/found';
import {ConnectComponent} from '../../shared/connect.component';
import {ProblemComponent} from '../../shared/problem.component';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {ShelfStore} from '../../state/shelf.store';
import {WorkStore} from '../../state/work.store';
import {PageMapComponent} from './page-map.component';

interface Card {
  readonly release: Release;
  readonly fits: number;
  readonly verdict: Fit['verdict'];
  readonly why: string;
  readonly chosen: boolean;
  readonly offered: boolean;
}

/** Firmware station: what is there, which releases fit and why, and which pages would be written. */
@Component({
  selector: 'bx-firmware',
  imports: [FormsModule, SelectButton, TableModule, ConnectComponent, ProblemComponent, PageMapComponent],
  templateUrl: './firmware.component.html',
  styleUrl: './firmware.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FirmwareComponent {
  protected readonly record = inject(RecordStore);
  protected readonly shelf = inject(ShelfStore);
  protected readonly fleet = inject(FleetStore);
  protected readonly work = inject(WorkStore);
  /** Output whose reasons and map are shown; the odd one out first. */
  protected readonly picked = signal<number | undefined>(undefined);
  protected readonly showRefused = signal(false);

  protected readonly oddVersion = computed(() => {
    const counts = new Map<string, number>();
    for (const e of this.record.found()?.escs ?? [])
      counts.set(e.identity?.version ?? '', (counts.get(e.identity?.version ?? '') ?? 0) + 1);
    const most = Math.max(0, ...counts.values());
    return (esc: FoundEsc) => counts.size > 1 && (counts.get(esc.identity?.version ?? '') ?? 0) < most;
  });

  protected readonly esc = computed(() => {
    const escs = this.record.found()?.escs ?? [];
    const picked = this.picked();
    return escs.find((e) => e.output === picked) ?? escs.find((e) => this.oddVersion()(e)) ?? escs[0];
  });

  protected readonly motorChoices = computed(() =>
    (this.record.found()?.escs ?? []).map((e) => ({label: `motor ${e.output + 1}`, value: e.output})),
  );

  private readonly cards = computed((): Card[] => {
    const found = this.record.found();
    const craft = this.fleet.current();
    const releases = this.shelf.catalogue()?.releases;
    if (!found || !craft || !releases) return [];
    return releases.flatMap((release): Card[] => {
      const image = this.shelf.images()[release.sha256];
      if (!image) return [];
      const fits = found.escs.flatMap((e) =>
        e.hardware
          ? [
              judgeFit({
                hardware: e.hardware,
                image,
                wantsReplies: craft.plan.controller.replies,
                standing: release.standing,
              }),
            ]
          : [],
      );
      const refused = fits.find((f) => f.verdict === 'refused');
      const care = fits.find((f) => f.verdict === 'fits with care');
      const telling = (refused ?? care)?.reasons.find((r) => r.verdict === (refused ? 'refused' : 'care'));
      const {family, version} = craft.plan.firmware;
      return [
        {
          release,
          fits: fits.filter((f) => f.verdict !== 'refused').length,
          verdict: refused ? 'refused' : care ? 'fits with care' : 'fits',
          why: telling?.text ?? release.note,
          chosen: !refused && release.family === family && release.version === version,
          offered: !refused,
        },
      ];
    });
  });
  /** Releases without what the plan needs are offered too, but folded away unless one is planned. */
  protected readonly showLacking = signal(false);
  private readonly allOffered = computed(() =>
    this.cards()
      .filter((c) => c.offered)
      .sort(newestFirst),
  );
  protected readonly lacking = computed(() =>
    this.allOffered().filter((c) => c.verdict !== 'fits' && c.release.standing === 'steady' && !c.chosen),
  );
  protected readonly offered = computed(() =>
    this.allOffered().filter((c) => this.showLacking() || !this.lacking().includes(c)),
  );
  protected readonly refused = computed(() =>
    this.cards()
      .filter((c) => !c.offered)
      .sort(newestFirst),
  );

  protected readonly reasons = computed(() => {
    const [esc, release, craft] = [this.esc(), this.shelf.planned(), this.fleet.current()];
    const image = release && this.shelf.images()[release.sha256];
    if (!esc?.hardware || !image || !craft) return undefined;
    const fit = judgeFit({
      hardware: esc.hardware,
      image,
      wantsReplies: craft.plan.controller.replies,
      standing: release.standing,
    });
    // Variant, replies and standing share a line while there is nothing to say about them.
    const isMain = (r: FitReason) => r.verdict !== 'holds' || r.check === 'flash' || r.check === 'board';
    const also = fit.reasons
      .filter((r) => !isMain(r))
      .map((r) => r.text)
      .join(' ');
    return {
      main: fit.reasons.filter(isMain),
      also,
      plan: planPages(findChip(esc.boot.chip)!, image, esc.pageCrcs),
      settings: this.settingsText(esc, image),
    };
  });

  protected choose(release: Release): void {
    this.fleet.setFirmware(release.family, release.version);
  }

  private settingsText(esc: FoundEsc, image: Parameters<typeof flatten>[0]): string {
    const identity = checkApplication(flatten(image, findChip(esc.boot.chip)!.application));
    if (!esc.settings || !identity.ok || !isLayoutRevision(identity.value.layoutRevision))
      return 'Settings are not readable; the plan and defaults are written.';
    const to = identity.value.layoutRevision;
    if (to === esc.settings.layout) return `Layout ${to} stays; nothing moves.`;
    const carried = carryOver(esc.settings, to);
    const names = (keys: readonly ParameterKey[]) => keys.map((k) => definitionOf(k).name.toLowerCase()).join(', ');
    const parts = [
      carried.moved.length ? `${names(carried.moved)} ${carried.moved.length > 1 ? 'move' : 'moves'}` : '',
      carried.added.length ? `${names(carried.added)} is new and starts at its default` : '',
      carried.dropped.length ? `${names(carried.dropped.map((d) => d.key))} is dropped` : '',
      carried.outOfRange.length ? `${names(carried.outOfRange.map((d) => d.key))} was out of range` : '',
    ];
    return `Layout ${esc.settings.layout} → ${to}: ${parts.filter(Boolean).join('; ')}. Values are carried over.`;
  }
}

const newestFirst = (a: Card, b: Card) => b.release.date.localeCompare(a.release.date);
