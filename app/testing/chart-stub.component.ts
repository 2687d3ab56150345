import {ChangeDetectionStrategy, Component, input, type Type} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {ChartComponent} from '../charts/chart.component';

/** Stands where a chart would: the test environment has no canvas. What a chart draws is tested by its option. */
@Component({selector: 'bx-chart', template: '{{ label() }}', changeDetection: ChangeDetectionStrategy.OnPush})
export class ChartStubComponent {
  readonly option = input.required<unknown>();
  readonly height = input(0);
  readonly label = input('');
  readonly grow = input(0);
}

/** Puts the stub in place of the charts of a component. */
export function withoutCharts(component: Type<unknown>): void {
  TestBed.overrideComponent(component, {
    remove: {imports: [ChartComponent]},
    add: {imports: [ChartStubComponent]},
  });
}
