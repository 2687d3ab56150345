import {TestBed} from '@angular/core/testing';
import type {SettingKind, SettingValue} from '@core/link/setting-shapes';
import {PlacesMapComponent} from './places-map.component';

const kind: SettingKind = {
  of: 'table',
  most: 9,
  columns: [
    {name: 'what', kind: {of: 'text', longest: 24}},
    {name: 'x', kind: {of: 'number', min: 0, max: 29}},
    {name: 'y', kind: {of: 'number', min: 0, max: 15}},
    {name: 'shown', kind: {of: 'truth'}},
  ],
};
const battery = {what: 'battery voltage', x: 3, y: 4, shown: true};
const clock = {what: 'clock', x: 10, y: 15, shown: false};

function map() {
  const fixture = TestBed.createComponent(PlacesMapComponent);
  const moved: SettingValue[] = [];
  fixture.componentInstance.changed.subscribe((value) => moved.push(value));
  for (const [name, value] of Object.entries({name: 'elements', kind, value: [battery, clock]}))
    fixture.componentRef.setInput(name, value);
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  const marks = [...host.querySelectorAll<SVGGElement>('.mark')];
  const svg = host.querySelector('svg')!;
  // 30 by 16 cells of 11 by 14 px; jsdom lays nothing out.
  svg.getBoundingClientRect = () => ({left: 0, top: 0, width: 330, height: 224}) as DOMRect;
  Object.defineProperty(svg, 'viewBox', {value: {baseVal: {width: 330, height: 224}}});
  for (const mark of marks) mark.setPointerCapture = () => undefined;
  return {fixture, host, marks, moved};
}

describe('the map of places', () => {
  it('says of each where it is, and which are not shown', () => {
    const {marks} = map();
    expect(marks.map((m) => m.getAttribute('aria-label'))).toEqual([
      'battery voltage, column 4 of 30, row 5 of 16; drag it, or move it with the arrow keys',
      'clock, column 11 of 30, row 16 of 16, not shown; drag it, or move it with the arrow keys',
    ]);
    expect(marks.map((m) => m.querySelector('text')!.textContent.trim())).toEqual(['battery…', 'clock']);
  });

  it('moves one by a cell with the arrow keys, and never off the screen', () => {
    const {marks, moved} = map();
    marks[0]!.dispatchEvent(new KeyboardEvent('keydown', {key: 'ArrowRight'}));
    marks[1]!.dispatchEvent(new KeyboardEvent('keydown', {key: 'ArrowDown'}));
    expect(moved).toEqual([[{...battery, x: 4}, clock]]);
  });

  it('is dragged from where it was taken; a press alone plans nothing', () => {
    const {fixture, marks, moved} = map();
    const at = (type: string, clientX: number, clientY: number) => {
      marks[0]!.dispatchEvent(new MouseEvent(type, {clientX, clientY}));
      fixture.detectChanges();
    };
    // Taken 12 px inside of it.
    at('pointerdown', 3 * 11 + 12, 4 * 14 + 7);
    at('pointerup', 3 * 11 + 12, 4 * 14 + 7);
    expect(moved).toEqual([]);
    at('pointerdown', 3 * 11 + 12, 4 * 14 + 7);
    at('pointermove', 8 * 11 + 12, 2 * 14 + 7);
    at('pointerup', 8 * 11 + 12, 2 * 14 + 7);
    expect(moved).toEqual([[{...battery, x: 8, y: 2}, clock]]);
  });
});
