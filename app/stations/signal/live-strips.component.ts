import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterNextRender,
  inject,
  input,
  viewChild,
} from '@angular/core';
import type {Report} from '@core/link/operations';
import {sheetColours} from '../../charts/chart.component';
import {BenchStore} from '../../state/bench.store';

/** Time that is seen, s, and reports that are held for it. */
const [seenS, maxReports] = [20, 2048];
const rowPx = 26;

/** Speed of every motor and the replies it lost, as they come: drawn once a frame from the reports since. */
@Component({
  selector: 'bx-live-strips',
  template: `<canvas #canvas role="img" aria-label="Speeds and lost replies of the last 20 s"></canvas>`,
  styles: `
    canvas {
      display: block;
      width: 100%;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LiveStripsComponent {
  private readonly bench = inject(BenchStore);
  readonly motors = input.required<number>();
  /** eRPM at the top of a strip. */
  readonly mostErpm = input.required<number>();
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly reports: Report[] = [];
  private frame = 0;

  constructor() {
    const off = this.bench.onReport((report) => {
      this.reports.push(report);
      if (this.reports.length > maxReports) this.reports.splice(0, maxReports / 2);
      // Nothing is drawn that nobody sees: one frame is asked for where none is.
      this.frame ||= requestAnimationFrame(() => this.draw());
    });
    afterNextRender(() => this.draw());
    inject(DestroyRef).onDestroy(() => {
      off();
      cancelAnimationFrame(this.frame);
    });
  }

  private draw(): void {
    this.frame = 0;
    const canvas = this.canvas().nativeElement;
    const ratio = devicePixelRatio;
    const [width, height] = [canvas.clientWidth, this.motors() * rowPx];
    canvas.style.height = `${height}px`;
    canvas.width = Math.round(width * ratio);
    canvas.height = Math.round(height * ratio);
    const pen = canvas.getContext('2d');
    if (!pen || !width) return;
    pen.scale(ratio, ratio);
    const colours = sheetColours();
    const now = this.reports.at(-1)?.atMs ?? 0;
    const x = (atMs: number) => 24 + (width - 24) * (1 - (now - atMs) / (seenS * 1000));
    pen.font = '11px "Atkinson Hyperlegible Mono Variable", monospace';
    for (let m = 0; m < this.motors(); m++) {
      const foot = (m + 1) * rowPx - 3;
      pen.fillStyle = colours.ink2;
      pen.fillText(String(m + 1), 2, foot - 6);
      pen.strokeStyle = colours.rule;
      pen.beginPath();
      pen.moveTo(24, foot + 0.5);
      pen.lineTo(width, foot + 0.5);
      pen.stroke();
      this.drawMotor(pen, m, {x, foot, petrol: colours.petrol, copper: colours.copper});
    }
  }

  private drawMotor(
    pen: CanvasRenderingContext2D,
    m: number,
    {x, foot, petrol, copper}: {x: (atMs: number) => number; foot: number; petrol: string; copper: string},
  ): void {
    const tall = rowPx - 6;
    pen.strokeStyle = petrol;
    pen.fillStyle = copper;
    pen.lineWidth = 1.2;
    pen.beginPath();
    let [isDown, lostBefore] = [false, undefined as number | undefined];
    for (const {atMs, motors} of this.reports) {
      const motor = motors[m];
      const at = x(atMs);
      if (!motor || at < 24) {
        lostBefore = motor?.lost;
        continue;
      }
      if (motor.erpm === null) isDown = false;
      else {
        const y = foot - tall * Math.min(1, motor.erpm / this.mostErpm());
        if (isDown) pen.lineTo(at, y);
        else pen.moveTo(at, y);
        isDown = true;
      }
      if (lostBefore !== undefined && motor.lost > lostBefore) pen.fillRect(at - 1, foot - tall, 1.5, tall);
      lostBefore = motor.lost;
    }
    pen.stroke();
  }
}
