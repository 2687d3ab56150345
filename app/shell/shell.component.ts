import {kindText} from '@core/words/craft-kind';
import {ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal} from '@angular/core';
import {toSignal} from '@angular/core/rxjs-interop';
import {Router, RouterLink, RouterLinkActive, RouterOutlet} from '@angular/router';
import {map} from 'rxjs';
import {version} from '@core/words/version';
import {keepFocus} from '../shared/keep-focus';
import {BenchMenuDoor} from '../bench/bench-menu-door';
import {ReturningPort} from '../state/returning-port';
import {BenchStore} from '../state/bench.store';
import {StandInStore} from '../state/stand-in.store';
import {FleetStore} from '../state/fleet.store';
import {FileInbox} from '../state/file-inbox';
import {PageSleep} from '../state/page-sleep';
import {readNote, writeNote} from '../store/local-notes';
import {onReplaced} from '../store/store-lock';
import {BenchMenuComponent} from './bench-menu.component';
import {KeysComponent} from './keys.component';
import {DroppedFilesComponent} from './dropped-files.component';
import {MishapsComponent} from './mishaps.component';
import {NoticesComponent} from './notices.component';

const typedIn = 'textarea, input:not([role=spinbutton]):not([type=checkbox])';
const darkKey = 'bidex-dark';

const isFileField = (target: EventTarget | null): boolean =>
  target instanceof Element && target.closest('[data-takes-files], input[type=file]') !== null;

/** Ink bar with bench and battery state and the stop control, and whatever station is open below it. */
@Component({
  selector: 'bx-shell',
  imports: [
    RouterLink,
    RouterLinkActive,
    RouterOutlet,
    BenchMenuComponent,
    DroppedFilesComponent,
    KeysComponent,
    MishapsComponent,
    NoticesComponent,
  ],
  template: `
    <header>
      <a class="mark" routerLink="/" aria-label="Bidex, fleet">bi<i>⇄</i>dex</a>
      @if (inCraft() && fleet.current(); as craft) {
        <div class="craft">
          <b>{{ craft.name }}</b>{{ kindText(craft) }}
        </div>
      } @else {
        <div class="craft">
          <b>{{ atShelf() ? 'Shelf' : 'Fleet' }}</b>{{ atShelf() ? 'images for all craft' : 'Bidex ' + version }}
        </div>
      }
      <nav class="beside" aria-label="Beside the route">
        <a routerLink="/" routerLinkActive="on" [routerLinkActiveOptions]="{exact: true}">Fleet</a>
        <a routerLink="/shelf" routerLinkActive="on">Shelf</a>
        @if (fleet.current(); as craft) {
          <a [routerLink]="['/craft', craft.id, 'logbook']" routerLinkActive="on">Logbook</a>
        }
      </nav>
      <div class="space"></div>
      <button
        type="button"
        class="text theme"
        (click)="toggleDark()"
        [attr.aria-label]="dark() ? 'Light theme' : 'Dark theme'"
        [attr.title]="dark() ? 'Light theme' : 'Dark theme'"
      >
        <svg viewBox="0 0 16 16" width="16" height="16" aria-hidden="true">
          <circle cx="8" cy="8" r="6.5" fill="none" stroke="currentColor" stroke-width="1.5" />
          <path [attr.d]="dark() ? 'M8 1.5a6.5 6.5 0 0 0 0 13z' : 'M8 1.5a6.5 6.5 0 0 1 0 13z'" fill="currentColor" />
        </svg>
      </button>
      <button type="button" class="text theme" aria-label="Keys" title="Keys: ?" (click)="showsKeys.set(true)">
        <kbd>?</kbd>
      </button>
      @if (standIn.isPresent()) {
        <div class="late">
          <span class="room text" aria-hidden="true">Simulate a fault</span>
          @defer (when fleet.loaded()) {
            <bx-mishaps />
          }
        </div>
      }
      <button
        type="button"
        class="lamp"
        title="How the bench is connected"
        aria-haspopup="dialog"
        [class.on]="bench.isConnected()"
        [disabled]="!fleet.currentId()"
        (click)="menu.craftId.set(bench.craftId() ?? fleet.currentId())"
      >
        {{
          bench.isConnected()
            ? 'Bench link' + (bench.hello()?.standIn ? ', simulated' : '')
            : bench.status() === 'connecting'
              ? 'Connecting'
              : 'Bench unplugged'
        }}
      </button>
      <div class="lamp mono" [class.on]="bench.isPowered()">
        @if (bench.isPowered()) {
          {{ bench.power()!.volts.toFixed(1) }} V · {{ bench.power()!.amps.toFixed(1) }} A
        } @else {
          no battery
        }
      </div>
      <button type="button" class="cut" [class.live]="bench.turning()" (click)="bench.stopAll()">
        Stop motors<kbd>Space</kbd>
      </button>
    </header>
    <bx-notices />
    @if (dropping()) {
      <div class="drop">
        Drop files: images, captures, flight logs, traces, snapshots, backups, controller texts, melodies. Each is
        looked into and opened at its station. Nothing is written by it.
      </div>
    }
    @defer (when inbox.isBusy()) {
      <bx-dropped-files />
    }
    @if (menuOf(); as craft) {
      @defer {
        <bx-bench-menu [craftId]="craft.id" [craftName]="craft.name" (closed)="menu.craftId.set(undefined)" />
      }
    }
    @defer (when showsKeys()) {
      <bx-keys [(visible)]="showsKeys" />
    }
    <router-outlet />
  `,
  styles: `
    :host {
      display: flex;
      flex-direction: column;
      height: 100vh;
    }
    header {
      flex: 0 0 52px;
      display: flex;
      align-items: center;
      gap: var(--s7);
      padding: 0 var(--s8);
      background: var(--bar);
      color: var(--on-bar);
    }
    .mark {
      font: 600 var(--fs-title) var(--mono);
      letter-spacing: -0.5px;
      color: inherit;
      text-decoration: none;
    }
    .mark i {
      color: var(--bar-mark);
      font-style: normal;
    }
    .craft {
      font-size: var(--fs-body);
      line-height: 1.15;
      border-left: 1px solid var(--bar-rule);
      padding-left: var(--s7);
      white-space: nowrap;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    .craft b {
      display: block;
      font-size: var(--fs-base);
    }
    .theme {
      display: grid;
      place-items: center;
      min-width: 32px;
    }
    .beside {
      display: flex;
      gap: var(--s2);
    }
    .beside a {
      color: var(--bar-ink-2);
      font-size: var(--fs-body);
      padding: var(--s4) var(--s4);
      text-decoration: none;
      border-bottom: 2px solid transparent;
    }
    .beside a:hover {
      text-decoration: underline;
    }
    .beside a.on {
      color: var(--on-bar);
      border-color: var(--bar-mark);
    }
    .space {
      flex: 1;
    }
    .text {
      background: none;
      border: 0;
      color: var(--bar-ink-2);
      font-size: var(--fs-note);
      cursor: pointer;
      padding: var(--s4) var(--s2);
    }
    .late {
      display: grid;
      white-space: nowrap;
    }
    .late > * {
      grid-area: 1 / 1;
    }
    .room {
      visibility: hidden;
    }
    .text:hover {
      text-decoration: underline;
    }
    .lamp {
      display: flex;
      align-items: center;
      gap: var(--s4);
      font-size: var(--fs-note);
      color: var(--bar-ink-2);
      white-space: nowrap;
    }
    button.lamp {
      background: none;
      border: 0;
      font-family: inherit;
      padding: var(--s4) var(--s2);
      cursor: pointer;
    }
    button.lamp:hover:not(:disabled) {
      text-decoration: underline;
    }
    button.lamp:disabled {
      cursor: default;
    }
    .lamp::before {
      content: '';
      width: 9px;
      height: 9px;
      border: 2px solid var(--bar-ring);
      border-radius: 50%;
    }
    .lamp.on::before {
      background: var(--bar-on);
      border-color: var(--bar-on);
    }
    .drop {
      position: fixed;
      inset: 52px 0 0 0;
      z-index: 10;
      display: grid;
      place-items: center;
      background: color-mix(in srgb, var(--petrol-soft) 92%, transparent);
      color: var(--ink);
      font-size: var(--fs-head);
      border: 3px dashed var(--petrol);
      pointer-events: none;
    }
    .cut {
      background: var(--cut);
      color: var(--cut-ink);
      font-weight: 700;
      border: 0;
      border-radius: var(--r);
      padding: var(--s4) var(--s6);
      min-height: 36px;
      font-size: var(--fs-body);
      cursor: pointer;
      white-space: nowrap;
    }
    .cut.live {
      background: var(--cut-ink);
      color: var(--cut-live);
    }
    .cut kbd {
      font: 600 var(--fs-axis) var(--mono);
      border: 1px solid currentColor;
      border-radius: 2px;
      padding: 0 var(--s2);
      margin-left: var(--s3);
    }
    @media (max-width: 1150px) {
      header {
        gap: var(--s5);
        padding: 0 var(--s6);
      }
      .craft {
        padding-left: var(--s5);
      }
    }
    header :focus-visible {
      outline-color: var(--bar-mark);
    }
  `,
  host: {
    '(document:dragover)': 'dragOver($event)',
    '(document:dragleave)': 'dropping.set(false)',
    '(document:drop)': 'drop($event)',
    '(document:keydown.control.z)': 'undo($event)',
    '(document:keydown.control.y)': 'redo($event)',
    '(document:keydown.?)': 'help($event)',
    '(document:keydown.shift.?)': 'help($event)',
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShellComponent {
  protected readonly kindText = kindText;
  protected readonly bench = inject(BenchStore);
  protected readonly standIn = inject(StandInStore);
  protected readonly fleet = inject(FleetStore);
  private readonly router = inject(Router);
  private readonly url = toSignal(this.router.events.pipe(map(() => this.router.url)), {initialValue: '/'});
  protected readonly inCraft = computed(() => this.url().startsWith('/craft/'));
  protected readonly atShelf = computed(() => this.url().startsWith('/shelf'));
  protected readonly inbox = inject(FileInbox);
  protected readonly dropping = signal(false);
  protected readonly showsKeys = signal(false);
  protected readonly menu = inject(BenchMenuDoor);
  /** The craft whose connection is looked at. */
  protected readonly menuOf = computed(() => this.fleet.crafts().find((c) => c.id === this.menu.craftId()));
  protected readonly version = version;
  protected readonly dark = signal(readNote(darkKey) === 'yes');

  constructor() {
    void this.fleet.load();
    inject(ReturningPort).watch();
    onReplaced(() => location.reload());
    document.documentElement.classList.toggle('dark', this.dark());
    // In the capturing phase: a dialog that keeps its keys to itself does not keep this one.
    window.addEventListener('keydown', this.stopKey, {capture: true});
    const endKeeping = keepFocus(document);
    const endSleepWatch = inject(PageSleep).watch();
    inject(DestroyRef).onDestroy(() => {
      window.removeEventListener('keydown', this.stopKey, {capture: true});
      endKeeping();
      endSleepWatch();
    });
  }

  protected toggleDark(): void {
    this.dark.update((d) => !d);
    writeNote(darkKey, this.dark() ? 'yes' : 'no');
    document.documentElement.classList.toggle('dark', this.dark());
  }

  /**
   * Space and Escape stop motors everywhere, whatever else is held, has the focus or lies open above. A space in a text is
   * typed while nothing turns; buttons are pressed with Enter.
   */
  private readonly stopKey = (event: KeyboardEvent): void => {
    const isSpace = event.code === 'Space' || event.key === ' ';
    if (!isSpace && event.key !== 'Escape') return;
    const turning = this.bench.turning() || this.bench.motors().some((m) => m.throttle > 0 || (m.erpm ?? 0) > 0);
    const target = event.target instanceof Element ? event.target : undefined;
    if (!turning && isSpace && target?.matches(typedIn)) return;
    if (turning || isSpace) event.preventDefault();
    if (turning) event.stopPropagation();
    void this.bench.stopAll();
  };

  /** Files may be dropped anywhere but on a field that takes files of its own. */
  protected dragOver(event: DragEvent): void {
    if (!event.dataTransfer?.types.includes('Files') || isFileField(event.target)) return;
    event.preventDefault();
    this.dropping.set(true);
  }

  protected drop(event: DragEvent): void {
    this.dropping.set(false);
    const files = [...(event.dataTransfer?.files ?? [])];
    if (!files.length || isFileField(event.target)) return;
    event.preventDefault();
    void this.inbox.arrive(files);
  }

  /** A question mark in a text is typed. */
  protected help(event: Event): void {
    if (event.target instanceof Element && event.target.matches(typedIn)) return;
    event.preventDefault();
    this.showsKeys.set(true);
  }

  protected undo(event: Event): void {
    if ((event.target as HTMLElement).matches('input, textarea')) return;
    event.preventDefault();
    this.fleet.undo();
  }

  protected redo(event: Event): void {
    if ((event.target as HTMLElement).matches('input, textarea')) return;
    event.preventDefault();
    this.fleet.redo();
  }
}
