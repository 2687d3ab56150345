/** What the bar has to tell beside the craft: what is not kept or not read, a page that slept, a change from another tab. */
import {ChangeDetectionStrategy, Component, inject} from '@angular/core';
import {FleetStore} from '../state/fleet.store';
import {PageSleep} from '../state/page-sleep';
import {RecordStore} from '../state/record.store';
import {StoreNotices} from '../state/store-notices';

@Component({
  selector: 'bx-bar-notices',
  template: `
    @if (fleet.storeFault() ?? record.storeFault(); as fault) {
      <span class="fault" role="alert" [attr.title]="fault"
        ><b>{{ fleet.unread() || record.unread() ? 'Not read.' : 'Kept in memory only.' }}</b> {{ fault }}</span
      >
    }
    @if (notices.text(); as text) {
      <span class="fault" role="alert" [attr.title]="text"
        >{{ text }} <button type="button" class="text" (click)="notices.dismiss()">Read</button></span
      >
    }
    @if (sleep.text(); as text) {
      <span class="fault" role="status"
        >{{ text }} <button type="button" class="text" (click)="sleep.dismiss()">Read</button></span
      >
    }
    @if (fleet.notice(); as text) {
      <span class="fault" role="status"
        >{{ text }} <button type="button" class="text" (click)="fleet.dismissNotice()">Read</button></span
      >
    }
  `,
  styles: `
    :host {
      display: contents;
    }
    .fault {
      color: var(--bar-fault);
      font-size: var(--fs-note);
      max-width: 360px;
    }
    .text {
      background: none;
      border: 0;
      color: var(--bar-ink-2);
      font-size: var(--fs-note);
      cursor: pointer;
      padding: var(--s4) var(--s2);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BarNoticesComponent {
  protected readonly fleet = inject(FleetStore);
  protected readonly record = inject(RecordStore);
  protected readonly notices = inject(StoreNotices);
  protected readonly sleep = inject(PageSleep);
}
