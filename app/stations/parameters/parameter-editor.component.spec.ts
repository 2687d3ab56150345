import {TestBed} from '@angular/core/testing';
import type {PlannedValue} from '@core/craft/craft';
import {definitionOf, type ParameterKey} from '@core/settings/definitions';
import {button, textOf} from '../../testing/fakes';
import {ParameterEditorComponent} from './parameter-editor.component';

async function editor(key: ParameterKey, planned: PlannedValue | undefined) {
  const fixture = TestBed.createComponent(ParameterEditorComponent);
  fixture.componentRef.setInput('definition', definitionOf(key));
  fixture.componentRef.setInput('planned', planned);
  fixture.componentRef.setInput('motors', 4);
  const changes: PlannedValue[] = [];
  fixture.componentInstance.changed.subscribe((v) => changes.push(v));
  fixture.detectChanges();
  await fixture.whenStable();
  fixture.detectChanges();
  return {fixture, host: fixture.nativeElement as HTMLElement, changes};
}

describe('parameter editor', () => {
  it('shows calibrated values as kept, without a control', async () => {
    const {host} = await editor('throttleMin', {kind: 'calibrated'});
    expect(textOf(host)).toContain('calibrated');
    expect(host.querySelector('input, button')).toBeNull();
  });

  it('flips one motor of a per-motor plan', async () => {
    const {host, changes} = await editor('rotation', {kind: 'per motor', values: [0, 1, 1, 0]});
    expect(button(host, '2').getAttribute('aria-label')).toBe('Rotation, motor 2: reversed');
    button(host, '2').click();
    button(host, '4').click();
    expect(changes).toEqual([
      {kind: 'per motor', values: [0, 0, 1, 0]},
      {kind: 'per motor', values: [0, 1, 1, 1]},
    ]);
  });

  it('offers few choices side by side and many in a list', async () => {
    expect(
      (await editor('activeBraking', {kind: 'same', value: 1})).host.querySelectorAll('p-togglebutton, .p-togglebutton')
        .length,
    ).toBeGreaterThan(1);
    expect((await editor('timing', {kind: 'same', value: 15})).host.querySelector('p-select')).not.toBeNull();
  });

  it('plans the choice that was pressed', async () => {
    const {host, changes} = await editor('pwm', {kind: 'same', value: 24});
    [...host.querySelectorAll<HTMLElement>('.p-togglebutton')].find((b) => textOf(b) === '96')!.click();
    expect(changes).toEqual([{kind: 'same', value: 96}]);
  });

  it('shows a number with its unit', async () => {
    const {host} = await editor('currentLimit', {kind: 'same', value: 45});
    expect(host.querySelector('input')!.value).toBe('45 A');
  });
});
