/** A map of noise on a canvas: loud is dark, so that it reads without colour and in print. Values at the cursor, by pointer or keys. */
import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterNextRender,
  computed,
  effect,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import type {MapLine} from '@core/sheets/noise-maps';
import type {NoiseMap} from '@core/spectra/noise-map';
import {decibels} from '@core/spectra/welch';
import {colourAt, mapLevels} from './map-colours';

interface Cursor {
  readonly x: number;
  readonly y: number;
}

@Component({
  selector: 'bx-map',
  templateUrl: './map.component.html',
  styleUrl: './map.component.css',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MapComponent {
  readonly map = input.required<NoiseMap>();
  /** Right edge, in the unit of x. */
  readonly mostX = input.required<number>();
  readonly label = input.required<string>();
  readonly xName = input.required<string>();
  readonly xUnit = input('');
  readonly yUnit = input('');
  readonly lines = input<readonly MapLine[]>([]);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly size = signal({width: 0, height: 0});
  protected readonly cursor = signal<Cursor | undefined>(undefined);

  protected readonly top = computed(() => this.map().from + this.map().rows * this.map().stepY);
  protected readonly xTicks = computed(() => ticks(0, this.mostX()));
  protected readonly yTicks = computed(() => ticks(this.map().from, this.top()));
  protected readonly legend = computed(() => mapLevels.marks);
  /** What stands under the cursor, in words. */
  protected readonly reading = computed(() => {
    const at = this.cursor();
    if (!at) return '';
    const {stepX, columns, rows, from, stepY, density, counts} = this.map();
    const [column, row] = [Math.round(at.x / stepX), Math.floor((at.y - from) / stepY)];
    if (column < 0 || column >= columns || row < 0 || row >= rows) return '';
    const value = density[row * columns + column]!;
    const place = `${this.figure(at.x, this.mostX())} ${this.xUnit()}, ${this.figure(at.y, this.top())} ${this.yUnit()}`;
    return Number.isNaN(value)
      ? `${place}: not flown`
      : `${place}: ${decibels(value).toFixed(1)} dB, ${counts[row]} segments`;
  });

  constructor() {
    const destroyed = inject(DestroyRef);
    afterNextRender(() => {
      const element = this.canvas().nativeElement;
      const observer = new ResizeObserver(() =>
        this.size.set({width: element.clientWidth, height: element.clientHeight}),
      );
      observer.observe(element);
      destroyed.onDestroy(() => observer.disconnect());
    });
    effect(() => {
      const {width, height} = this.size();
      if (width > 0)
        draw(this.canvas().nativeElement, {width, height}, {map: this.map(), mostX: this.mostX(), lines: this.lines()});
    });
  }

  protected share(value: number, from: number, to: number): number {
    return ((value - from) / (to - from)) * 100;
  }

  protected move(event: PointerEvent): void {
    const box = this.canvas().nativeElement.getBoundingClientRect();
    const {from} = this.map();
    this.cursor.set({
      x: ((event.clientX - box.left) / box.width) * this.mostX(),
      y: this.top() - ((event.clientY - box.top) / box.height) * (this.top() - from),
    });
  }

  protected step(event: KeyboardEvent): void {
    const ways: Readonly<Record<string, readonly [number, number]>> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, 1],
      ArrowDown: [0, -1],
    };
    const way = ways[event.key];
    if (!way) return;
    event.preventDefault();
    const {stepX, stepY, from} = this.map();
    const now = this.cursor() ?? {x: this.mostX() / 2, y: (from + this.top()) / 2};
    const times = event.shiftKey ? 10 : 1;
    this.cursor.set({
      x: Math.min(this.mostX(), Math.max(0, now.x + way[0] * stepX * times)),
      y: Math.min(this.top() - stepY / 2, Math.max(from, now.y + way[1] * stepY * times)),
    });
  }

  private figure(value: number, most: number): string {
    return value.toFixed(most < 20 ? 2 : most < 100 ? 1 : 0);
  }
}

/** About five round values from one end to the other. */
function ticks(from: number, to: number): number[] {
  const raw = (to - from) / 5;
  const power = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= raw)!;
  const first = Math.ceil(from / step - 1e-9) * step;
  return Array.from({length: Math.floor((to - first) / step + 1e-9) + 1}, (_, i) =>
    Number((first + i * step).toFixed(6)),
  );
}

interface Drawn {
  readonly map: NoiseMap;
  readonly mostX: number;
  readonly lines: readonly MapLine[];
}

function draw(
  canvas: HTMLCanvasElement,
  {width, height}: {width: number; height: number},
  {map, mostX, lines}: Drawn,
): void {
  const ratio = window.devicePixelRatio || 1;
  canvas.width = Math.round(width * ratio);
  canvas.height = Math.round(height * ratio);
  const context = canvas.getContext('2d');
  if (!context) return;
  const columns = Math.max(1, Math.min(map.columns, Math.ceil(mostX / map.stepX)));
  const image = new ImageData(columns, map.rows);
  for (let row = 0; row < map.rows; row++)
    for (let k = 0; k < columns; k++) {
      const value = map.density[row * map.columns + k]!;
      const place = 4 * ((map.rows - 1 - row) * columns + k);
      if (Number.isNaN(value)) continue;
      const [r, g, b] = colourAt(decibels(value));
      image.data.set([r, g, b, 255], place);
    }
  const small = new OffscreenCanvas(columns, map.rows);
  small.getContext('2d')!.putImageData(image, 0, 0);
  context.imageSmoothingEnabled = false;
  context.drawImage(small, 0, 0, (columns * map.stepX * canvas.width) / mostX, canvas.height);
  context.scale(ratio, ratio);
  for (const line of lines) drawLine(context, line, {width, height, mostX, map});
}

/** Light with a dark rim, so that it reads on every shade. */
function drawLine(
  context: CanvasRenderingContext2D,
  {points, dash, label}: MapLine,
  {width, height, mostX, map}: {width: number; height: number; mostX: number; map: NoiseMap},
): void {
  const place = ([x, y]: readonly [number, number]) =>
    [(x / mostX) * width, height - ((y - map.from) / (map.rows * map.stepY)) * height] as const;
  const shown = points.filter(([x, y]) => x <= mostX && !Number.isNaN(y) && !Number.isNaN(x));
  if (shown.length < 2) return;
  for (const [style, thick] of [
    ['#1c2a30', 3.4],
    ['#fbf9f3', 1.5],
  ] as const) {
    context.beginPath();
    shown.forEach((point, i) => (i ? context.lineTo(...place(point)) : context.moveTo(...place(point))));
    context.strokeStyle = style;
    context.globalAlpha = style === '#1c2a30' ? 0.35 : 1;
    context.lineWidth = thick;
    context.setLineDash(style === '#1c2a30' ? [] : [...dash]);
    context.stroke();
  }
  context.globalAlpha = 1;
  const [x, y] = place(shown.at(-1)!);
  context.font = '700 12px "Atkinson Hyperlegible Next Variable", sans-serif';
  context.lineWidth = 3;
  context.setLineDash([]);
  context.strokeStyle = '#1c2a30';
  context.fillStyle = '#fbf9f3';
  const at = [Math.min(width - 22, x + 4), Math.max(13, y + 12)] as const;
  context.strokeText(label, ...at);
  context.fillText(label, ...at);
}
