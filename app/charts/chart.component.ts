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
  viewChild,
} from '@angular/core';
import {CustomChart, LineChart} from 'echarts/charts';
import {GridComponent, TooltipComponent} from 'echarts/components';
import {init, use, type EChartsCoreOption, type EChartsType} from 'echarts/core';
import {CanvasRenderer} from 'echarts/renderers';

use([LineChart, CustomChart, GridComponent, TooltipComponent, CanvasRenderer]);

/** A chart in its box; redraws when its option or its size changes. */
@Component({
  selector: 'bx-chart',
  template: '<div #box role="img" [attr.aria-label]="label()" [style.height]="tall()"></div>',
  styles: ':host, div { display: block; width: 100%; }',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChartComponent {
  readonly option = input.required<EChartsCoreOption>();
  /** On a screen of 800 px, px. */
  readonly height = input.required<number>();
  readonly label = input.required<string>();
  /** Share of the screen's height above 800 px that the chart takes on top. */
  readonly grow = input(0);
  protected readonly tall = computed(() => `calc(${this.height()}px + max(0px, 100vh - 800px) * ${this.grow()})`);
  private readonly box = viewChild.required<ElementRef<HTMLDivElement>>('box');
  private chart: EChartsType | undefined;

  constructor() {
    const destroyed = inject(DestroyRef);
    afterNextRender(() => {
      const element = this.box().nativeElement;
      const chart = init(element, undefined, {renderer: 'canvas'});
      this.chart = chart;
      this.tell(this.option());
      const observer = new ResizeObserver(() => {
        // Of a station that is kept while another is open.
        if (!element.clientWidth) return;
        // Observing begins with a call of its own, of the size that the chart has already.
        if (chart.getWidth() !== element.clientWidth || chart.getHeight() !== element.clientHeight) chart.resize();
      });
      observer.observe(element);
      destroyed.onDestroy(() => {
        observer.disconnect();
        chart.dispose();
        this.chart = undefined;
      });
    });
    effect(() => this.tell(this.option()));
  }

  /** Drawn with the next frame: made and drawn in one task, the first chart would hold the screen up. */
  private tell(option: EChartsCoreOption): void {
    this.chart?.setOption(option, {notMerge: true, lazyUpdate: true});
  }
}

/** Colours of the sheet as they are now; canvas cannot read custom properties by itself. */
export function sheetColours(): Record<
  'ink' | 'ink2' | 'ink3' | 'rule' | 'rule2' | 'petrol' | 'copper' | 'moss' | 'ochre' | 'plum' | 'sheet',
  string
> {
  const style = getComputedStyle(document.documentElement);
  const token = (name: string) => style.getPropertyValue(`--${name}`).trim();
  return {
    ink: token('ink'),
    ink2: token('ink-2'),
    ink3: token('ink-3'),
    rule: token('rule'),
    rule2: token('rule-2'),
    petrol: token('petrol'),
    copper: token('copper'),
    moss: token('moss'),
    ochre: token('ochre'),
    plum: token('plum'),
    sheet: token('sheet'),
  };
}

export const sansFont = 'Atkinson Hyperlegible Next Variable, sans-serif';
export const monoFont = 'Atkinson Hyperlegible Mono Variable, monospace';

/** Axis in the manner of the sheet: mono figures, thin rules. */
export function sheetAxis(colours: ReturnType<typeof sheetColours>, name: string, more: Record<string, unknown> = {}) {
  return {
    type: 'value',
    name,
    nameTextStyle: {color: colours.ink2, fontSize: 11, fontFamily: sansFont},
    axisLine: {show: false},
    axisTick: {show: false},
    axisLabel: {
      color: colours.ink3,
      fontFamily: monoFont,
      fontSize: 11,
      formatter: (value: number) => String(value),
    },
    splitLine: {lineStyle: {color: colours.rule2}},
    animation: false,
    ...more,
  };
}
