import {TestBed} from '@angular/core/testing';
import {definitionOf} from '@core/settings/definitions';
import {DotStripComponent} from './dot-strip.component';

function strip(
  key: Parameters<typeof definitionOf>[0],
  values: (number | undefined)[],
  planned: (number | undefined)[],
): HTMLElement {
  const fixture = TestBed.createComponent(DotStripComponent);
  fixture.componentRef.setInput('definition', definitionOf(key));
  fixture.componentRef.setInput('values', values);
  fixture.componentRef.setInput('planned', planned);
  fixture.detectChanges();
  return fixture.nativeElement as HTMLElement;
}
const marks = (host: HTMLElement) =>
  [...host.querySelectorAll('g')].map((g) => ({motor: g.textContent?.trim(), off: g.classList.contains('off')}));

describe('dot strip', () => {
  it('shows one mark per value, filled where it is off the plan', () => {
    expect(marks(strip('timing', [22.5, 22.5, 15, 22.5], [22.5, 22.5, 22.5, 22.5]))).toEqual([
      {motor: '3', off: true},
      {motor: '1,2,4', off: false},
    ]);
  });

  it('draws one bar per planned value, none where calibration decides', () => {
    expect(strip('rotation', [0, 1], [0, 1]).querySelectorAll('rect.plan')).toHaveLength(2);
    expect(strip('throttleMin', [1016, 1019], [undefined, undefined]).querySelectorAll('rect.plan')).toHaveLength(0);
  });

  it('says the same in words', () => {
    const label = strip('activeBraking', [1, 0, undefined], [1, 1, 1]).querySelector('svg')!.getAttribute('aria-label');
    expect(label).toBe('motor 1: on; motor 2: off, off the plan; motor 3: not found');
  });

  it('leaves out motors without a value, and grows for stacked ones', () => {
    const flat = strip('throttleMin', [1000, 1030, 1060], [undefined, undefined, undefined]);
    const stacked = strip('throttleMin', [1016, 1017, 1018], [undefined, undefined, undefined]);
    const height = (host: HTMLElement) => Number(host.querySelector('svg')!.getAttribute('height'));
    expect(height(stacked)).toBeGreaterThan(height(flat));
    expect(marks(strip('melody', [undefined, undefined], [0, 0]))).toEqual([]);
  });
});
