import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {juniper} from '@demo/craft/juniper';
import type {Craft, PlannedValue} from '@core/craft/craft';
import type {ParameterKey} from '@core/settings/definitions';
import {plannedEscs} from '@core/compare/rules/judge-plan';
import {Harness, shelf} from '@simulator/testing/bench-harness';
import {CraftQuestionStore} from '../../state/craft-question.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {WorkStore} from '../../state/work.store';
import {withoutCharts} from '../../testing/chart-stub.component';
import {button, buttons, textOf} from '../../testing/fakes';
import {effectOption, niceAxis} from './effect-option';
import {ParameterPanelComponent} from './parameter-panel.component';
import {groupRows} from '@core/sheets/parameters/parameters';

const found = await new Harness().survey();

function panel(key: ParameterKey, craft: Craft = juniper) {
  const changes: [string, PlannedValue | undefined][] = [];
  TestBed.configureTestingModule({
    providers: [
      {
        provide: FleetStore,
        useValue: {
          current: signal(craft),
          setParameter: (name: string, value: PlannedValue) => changes.push([name, value]),
          clearParameter: (name: string) => changes.push([name, undefined]),
        },
      },
      {provide: RecordStore, useValue: {found: signal(found)}},
      {provide: CraftQuestionStore, useValue: {question: signal({craft, record: {found}})}},
      {provide: WorkStore, useValue: {plannedEscs: signal(plannedEscs(craft, found, shelf.imageFor(craft)))}},
    ],
  });
  withoutCharts(ParameterPanelComponent);
  const rows = groupRows({craft, found, layout: 8, findings: []}).flatMap((g) => g.rows);
  const fixture = TestBed.createComponent(ParameterPanelComponent);
  fixture.componentRef.setInput(
    'row',
    rows.find((r) => r.definition.key === key)!,
  );
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  return {host, changes, fixture, text: () => textOf(host)};
}

describe('an open line', () => {
  it('says what the parameter does, at both ends and on one ESC alone', () => {
    const {text} = panel('toneLoudness');
    expect(text()).toContain('Too lowBelow a third of the range a small craft is too quiet.');
    expect(text()).toContain('No formula says what this does to this craft');
  });

  it('plans what was found, or one motor’s value for all', () => {
    const {host, changes} = panel('activeBraking');
    button(host, 'As it was found').click();
    button(host, 'off of motor 3 for all').click();
    button(host, 'Default, on').click();
    button(host, 'Do not set it').click();
    expect(changes).toEqual([
      ['activeBraking', {kind: 'per motor', values: [1, 1, 0, 1]}],
      ['activeBraking', {kind: 'same', value: 0}],
      ['activeBraking', {kind: 'same', value: 1}],
      ['activeBraking', undefined],
    ]);
  });

  it('gives picked motors a value of their own', () => {
    const {host, changes, fixture} = panel('activeBraking');
    buttons(host)
      .filter((b) => ['Motor 1', 'Motor 4'].includes(b.getAttribute('aria-label') ?? ''))
      .forEach((b) => b.click());
    fixture.detectChanges();
    [...host.querySelectorAll<HTMLElement>('.p-togglebutton')].find((b) => textOf(b) === 'off')!.click();
    expect(changes).toEqual([['activeBraking', {kind: 'per motor', values: [0, 1, 1, 0]}]]);
  });

  it('holds figures of what was found against those of the plan', () => {
    const {host, text} = panel('activeBraking');
    expect([...host.querySelectorAll('thead th')].map(textOf)).toEqual([
      'What it does to this craft',
      'on found, motors 1, 2 and 4',
      'off found, motor 3',
      'on planned, all motors',
    ]);
    expect(text()).toMatch(/Coast-down in flight(\d+) ms(\d+) ms\1 ms/);
  });

  it('offers nothing to plan where the firmware does not have it', () => {
    const {host} = panel('governorP');
    expect(buttons(host)).toEqual([]);
  });
});

describe('its chart', () => {
  it.each([
    [0, 14.7, {min: 0, max: 15, interval: 5}],
    [-13, 31, {min: -20, max: 40, interval: 10}],
    [0, 0.9, {min: 0, max: 1, interval: 0.2}],
  ])('from %d to %d has round ends', (low, high, axis) => {
    const nice = niceAxis(low, high);
    expect(nice.min).toBeCloseTo(axis.min, 9);
    expect(nice.max).toBeCloseTo(axis.max, 9);
    expect(nice.interval).toBeCloseTo(axis.interval, 9);
  });

  it('marks found and plan once each, and a value that is both once', () => {
    const points = [0, 1].map((x) => ({x, y: x, low: x - 1, high: x + 1}));
    const effect = {
      xName: 'x',
      yName: 'y',
      lines: [{name: 'line', points}],
      xStep: 1,
      xOf: (v: number) => v * 2,
      figures: () => [],
      source: '',
    };
    const {series} = effectOption(effect, {found: [1, 2], planned: [2]});
    const marks = series.filter((s) => 'endLabel' in s) as {data: number[][]; endLabel: {formatter: string}}[];
    expect(marks.map((m) => [m.endLabel.formatter, m.data[0]![0]])).toEqual([
      ['found', 2],
      ['plan, found', 4],
    ]);
    expect(series[1]!.data).toEqual([
      [0, 2],
      [1, 2],
    ]);
  });
});
