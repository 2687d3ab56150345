import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterNextRender,
  effect,
  inject,
  input,
  output,
  viewChild,
} from '@angular/core';
import type {Frame} from '@core/capture/decode/frames';
import type {TimelineWire} from '@core/capture/ask/timeline';
import {sheetColours} from '../../../charts/chart.component';
import {axisPx, drawTimeline, lanePx, namePx} from './draw-timeline';
import {around, moved, zoomed, type Span} from './timeline-view';

/** Answers what is to be seen of the wires between two moments. */
export type TimelineSource = (
  wires: readonly number[],
  view: Span & {readonly columns: number},
) => Promise<readonly TimelineWire[] | undefined>;

export interface TimelineName {
  readonly wire: number;
  readonly name: string;
}

/**
 * Wires over time, from seconds to nanoseconds. What is seen is asked of the worker; while an answer is on its way the one
 * before is drawn where it now lies, so that a hand never waits.
 */
@Component({
  selector: 'bx-timeline',
  template: `
    <div class="tools">
      <button type="button" class="btn" (click)="zoom(0.5)" aria-label="Nearer">+</button>
      <button type="button" class="btn" (click)="zoom(2)" aria-label="Farther">−</button>
      <button type="button" class="btn" (click)="fit()">Whole capture</button>
      <span class="quiet">wheel or + − nearer and farther; drag or arrows to move; click a frame to pick it</span>
    </div>
    <canvas
      #canvas
      tabindex="0"
      role="img"
      [attr.aria-label]="'Timeline of ' + wires().length + ' wires; arrows move it, plus and minus zoom'"
      [style.height.px]="height()"
      (wheel)="wheel($event)"
      (pointerdown)="grab($event)"
      (pointermove)="drag($event)"
      (pointerup)="letGo($event)"
      (keydown)="key($event)"
    ></canvas>
  `,
  styles: `
    .tools {
      display: flex;
      gap: var(--s4);
      align-items: center;
      font-size: var(--fs-note);
      padding: var(--s3) 0;
    }
    .tools .btn {
      min-width: 38px;
    }
    canvas {
      display: block;
      width: 100%;
      background: var(--sheet);
      border: 1px solid var(--rule);
      cursor: grab;
      touch-action: none;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TimelineComponent {
  readonly wires = input.required<readonly TimelineName[]>();
  readonly whole = input.required<Span>();
  readonly looked = input.required<number>();
  readonly row = input<number | undefined>(undefined);
  readonly source = input.required<TimelineSource>();
  /** How frames read: where it changes, everything is asked anew. */
  readonly reading = input<unknown>(undefined);
  readonly picked = output<{readonly wire: number; readonly frame: Frame}>();

  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private span: Span = {from: 0, to: 1};
  private answer: {readonly of: Span; readonly wires: readonly TimelineWire[]} | undefined;
  private asking = false;
  private isStale = false;
  private frame = 0;
  private held: {readonly x: number; readonly span: Span; moved: boolean} | undefined;
  private colours: ReturnType<typeof sheetColours> | undefined;
  /** Longest time that one drawing took, ms: told to who measures. */
  private longestMs = 0;
  private drawings = 0;

  constructor() {
    const destroyed = inject(DestroyRef);
    afterNextRender(() => {
      const observer = new ResizeObserver(() => this.refresh());
      observer.observe(this.canvas().nativeElement);
      destroyed.onDestroy(() => observer.disconnect());
    });
    effect(() => {
      const whole = this.whole();
      this.wires();
      this.reading();
      this.answer = undefined;
      if (this.span.from < whole.from - 1 || this.span.to > whole.to + 1 || this.span.to === 1) this.span = whole;
      this.refresh();
    });
    effect(() => {
      this.row();
      this.looked();
      this.redraw();
    });
    destroyed.onDestroy(() => cancelAnimationFrame(this.frame));
  }

  protected height(): number {
    return axisPx + Math.max(1, this.wires().length) * lanePx;
  }

  /** Brings a frame into sight, so wide that it reads. */
  show({from, to}: Pick<Frame, 'from' | 'to'>): void {
    this.span = around(from, to, this.whole());
    this.refresh();
  }

  protected fit(): void {
    this.span = this.whole();
    this.refresh();
  }

  protected zoom(factor: number, at = (this.span.from + this.span.to) / 2): void {
    this.span = zoomed(this.span, factor, at, this.whole());
    this.refresh();
  }

  protected wheel(event: WheelEvent): void {
    event.preventDefault();
    this.zoom(Math.exp(Math.max(-120, Math.min(120, event.deltaY)) / 260), this.timeAt(event.offsetX));
  }

  protected grab(event: PointerEvent): void {
    if (event.button !== 0) return;
    this.canvas().nativeElement.setPointerCapture(event.pointerId);
    this.held = {x: event.offsetX, span: this.span, moved: false};
  }

  protected drag(event: PointerEvent): void {
    if (!this.held) return;
    const by = event.offsetX - this.held.x;
    if (Math.abs(by) > 3) this.held.moved = true;
    if (!this.held.moved) return;
    const {span} = this.held;
    this.span = moved(span, (-by / this.room()) * (span.to - span.from), this.whole());
    this.refresh();
  }

  protected letGo(event: PointerEvent): void {
    const wasClick = this.held && !this.held.moved;
    this.held = undefined;
    if (wasClick) this.pickAt(event.offsetX, event.offsetY);
  }

  protected key(event: KeyboardEvent): void {
    const width = this.span.to - this.span.from;
    const step = {ArrowLeft: -0.15, ArrowRight: 0.15, PageUp: -0.9, PageDown: 0.9}[event.key];
    const factor = {'+': 0.5, '=': 0.5, '-': 2}[event.key];
    if (step !== undefined) this.span = moved(this.span, step * width, this.whole());
    else if (factor !== undefined) return this.zoom(factor);
    else if (event.key === 'Home') this.span = this.whole();
    else return;
    event.preventDefault();
    this.refresh();
  }

  private pickAt(x: number, y: number): void {
    const lane = Math.floor((y - axisPx) / lanePx);
    const [wire, name] = [this.answer?.wires[lane], this.wires()[lane]];
    if (!wire || !name) return;
    const t = this.timeAt(x);
    const near = 6 * ((this.span.to - this.span.from) / this.room());
    const frame = wire.frames.find((f) => t >= f.from - near && t <= f.to + near);
    if (frame) this.picked.emit({wire: name.wire, frame});
  }

  private room = (): number => Math.max(1, this.canvas().nativeElement.clientWidth - namePx);
  private timeAt = (x: number): number =>
    this.span.from + ((x - namePx) / this.room()) * (this.span.to - this.span.from);

  /** Asks for what is seen now, one question at a time, and draws. */
  private refresh(): void {
    this.redraw();
    if (this.asking) {
      this.isStale = true;
      return;
    }
    void this.ask();
  }

  private async ask(): Promise<void> {
    this.asking = true;
    do {
      this.isStale = false;
      const [of, wires] = [this.span, this.wires().map((w) => w.wire)];
      const answer = await this.source()(wires, {...of, columns: Math.max(50, Math.round(this.room()))});
      const isOwn = wires.length === this.wires().length;
      if (answer && isOwn) this.answer = {of, wires: answer};
      this.redraw();
    } while (this.isStale);
    this.asking = false;
  }

  private redraw(): void {
    this.frame ||= requestAnimationFrame(() => {
      this.frame = 0;
      this.draw();
    });
  }

  private draw(): void {
    const canvas = this.canvas().nativeElement;
    const [width, height, ratio] = [canvas.clientWidth, this.height(), devicePixelRatio];
    if (!width || !this.answer) return;
    const began = performance.now();
    const [deviceWidth, deviceHeight] = [Math.round(width * ratio), Math.round(height * ratio)];
    if (canvas.width !== deviceWidth || canvas.height !== deviceHeight) {
      [canvas.width, canvas.height] = [deviceWidth, deviceHeight];
      this.colours = undefined;
    }
    const pen = canvas.getContext('2d');
    if (!pen) return;
    pen.setTransform(ratio, 0, 0, ratio, 0, 0);
    drawTimeline(pen, {
      ...{span: this.span, of: this.answer.of, wires: this.answer.wires, row: this.row(), width},
      names: this.wires().map((w) => w.name),
      looked: this.wires().findIndex((w) => w.wire === this.looked()),
      colours: (this.colours ??= sheetColours()),
    });
    this.longestMs = Math.max(this.longestMs, performance.now() - began);
    canvas.dataset['longest'] = this.longestMs.toFixed(1);
    canvas.dataset['drawings'] = String(++this.drawings);
    canvas.dataset['span'] = `${this.span.from} ${this.span.to}`;
  }
}
