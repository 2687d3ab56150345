/** What concerns the whole page, below its bar: what is not kept or not read, a page that slept, a change from another tab. */
import {ChangeDetectionStrategy, Component, computed, inject} from '@angular/core';
import {FleetStore} from '../state/fleet.store';
import {PageSleep} from '../state/page-sleep';
import {RecordStore} from '../state/record.store';
import {StoreNotices} from '../state/store-notices';

@Component({
  selector: 'bx-notices',
  template: `
    @if (fleet.storeFault() ?? record.storeFault(); as fault) {
      <p role="alert">
        <span
          ><b>{{ fleet.unread() || record.unread() ? 'Not read.' : 'Kept in memory only.' }}</b> {{ fault }}</span
        >
      </p>
    }
    @for (notice of told(); track notice.text) {
      <p [attr.role]="notice.role">
        <span>{{ notice.text }}</span>
        <button type="button" class="btn" (click)="notice.dismiss()">Read</button>
      </p>
    }
  `,
  styles: `
    :host {
      display: block;
      flex: none;
    }
    p {
      display: flex;
      align-items: center;
      justify-content: space-between;
      gap: var(--s8);
      margin: 0;
      padding: var(--s3) var(--s8);
      min-height: 44px;
      background: var(--copper-soft);
      color: var(--ink);
      border-bottom: 1px solid var(--copper);
      font-size: var(--fs-body);
      max-width: none;
    }
    p[role='status'] {
      background: var(--ochre-soft);
      border-color: var(--ochre);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NoticesComponent {
  protected readonly fleet = inject(FleetStore);
  protected readonly record = inject(RecordStore);
  private readonly notices = inject(StoreNotices);
  private readonly sleep = inject(PageSleep);

  /** What goes away once it was read. */
  protected readonly told = computed(() =>
    [
      {role: 'alert', text: this.notices.text(), dismiss: () => this.notices.dismiss()},
      {role: 'status', text: this.sleep.text(), dismiss: () => this.sleep.dismiss()},
      {role: 'status', text: this.fleet.notice(), dismiss: () => this.fleet.dismissNotice()},
    ].filter(({text}) => text),
  );
}
