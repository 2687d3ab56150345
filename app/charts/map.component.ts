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
import type {MapLine} from '@core/sheets/noise/noise-maps';
import type {NoiseMap} from '@core/spectra/noise-map';
import {mapReading} from '@core/sheets/noise/map-reading';
import {drawMap} from './draw-map';
import {mapLevels} from './map-colours';

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
  readonly maxX = input.required<number>();
  readonly label = input.required<string>();
  readonly xName = input.required<string>();
  readonly xUnit = input('');
  readonly yUnit = input('');
  readonly lines = input<readonly MapLine[]>([]);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly size = signal({width: 0, height: 0});
  protected readonly cursor = signal<Cursor | undefined>(undefined);

  protected readonly top = computed(() => this.map().from + this.map().rows * this.map().stepY);
  protected readonly xTicks = computed(() => ticks(0, this.maxX()));
  protected readonly yTicks = computed(() => ticks(this.map().from, this.top()));
  protected readonly legend = computed(() => mapLevels.marks);
  /** What stands under the cursor, in words. */
  protected readonly reading = computed(() => {
    const at = this.cursor();
    return at ? mapReading(this.map(), at, {maxX: this.maxX(), xUnit: this.xUnit(), yUnit: this.yUnit()}) : '';
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
        drawMap(
          this.canvas().nativeElement,
          {width, height},
          {map: this.map(), maxX: this.maxX(), lines: this.lines()},
        );
    });
  }

  protected share(value: number, from: number, to: number): number {
    return ((value - from) / (to - from)) * 100;
  }

  protected move(event: PointerEvent): void {
    const box = this.canvas().nativeElement.getBoundingClientRect();
    const {from} = this.map();
    this.cursor.set({
      x: ((event.clientX - box.left) / box.width) * this.maxX(),
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
    const now = this.cursor() ?? {x: this.maxX() / 2, y: (from + this.top()) / 2};
    const times = event.shiftKey ? 10 : 1;
    this.cursor.set({
      x: Math.min(this.maxX(), Math.max(0, now.x + way[0] * stepX * times)),
      y: Math.min(this.top() - stepY / 2, Math.max(from, now.y + way[1] * stepY * times)),
    });
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
