/** The stop key: in any focus, with any key held, while something above keeps its keys to itself. */
import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {provideRouter} from '@angular/router';
import {BenchStore} from '../state/bench.store';
import {StandInStore} from '../state/stand-in.store';
import {FleetStore} from '../state/fleet.store';
import {RecordStore} from '../state/record.store';
import {fakeBench, fakeStandIn} from '../testing/fakes';
import {ShellComponent} from './shell.component';

beforeEach(() => TestBed.configureTestingModule({imports: [ShellComponent]}).compileComponents());

function shell(change: (bench: ReturnType<typeof fakeBench>) => void = () => undefined) {
  const bench = fakeBench();
  change(bench);
  const fleet = {
    current: signal(undefined),
    currentId: signal(undefined),
    crafts: signal([]),
    storeFault: signal(undefined),
    unread: signal(false),
    notice: signal(undefined),
    // The bench's own menu comes with the fleet: not here.
    loaded: signal(false),
    load: () => Promise.resolve(),
  };
  TestBed.configureTestingModule({
    providers: [
      provideRouter([]),
      {provide: BenchStore, useValue: bench},
      {provide: StandInStore, useValue: fakeStandIn(bench.calls)},
      {provide: FleetStore, useValue: fleet},
      {provide: RecordStore, useValue: {storeFault: signal(undefined), unread: signal(false)}},
    ],
  });
  const fixture = TestBed.createComponent(ShellComponent);
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  document.body.append(host);
  /** Presses a key on an element put into the page; tells whether the element still got it. */
  const press = (element: HTMLElement, init: KeyboardEventInit) => {
    host.append(element);
    let heard = false;
    element.addEventListener('keydown', () => (heard = true));
    const event = new KeyboardEvent('keydown', {bubbles: true, cancelable: true, ...init});
    element.dispatchEvent(event);
    element.remove();
    return {heard, prevented: event.defaultPrevented};
  };
  return {bench, fixture, host, press, stops: () => bench.calls.filter((c) => c === 'stop').length};
}
const space = {key: ' ', code: 'Space'};

describe('the stop key', () => {
  it.each([
    ['alone', {}],
    ['with Shift', {shiftKey: true}],
    ['with Ctrl', {ctrlKey: true}],
    ['with Alt', {altKey: true}],
    ['with Meta', {metaKey: true}],
  ])('Space and Escape stop %s, in a text too, while a motor turns', (_, held) => {
    const {press, stops} = shell((b) => b.turning.set(true));
    const text = document.createElement('input');
    expect(press(text, {...space, ...held})).toEqual({heard: false, prevented: true});
    expect(press(text, {key: 'Escape', code: 'Escape', ...held})).toEqual({heard: false, prevented: true});
    // A layout that gives the key another character is the same key.
    press(document.createElement('button'), {key: 'Unidentified', code: 'Space', ...held});
    expect(stops()).toBe(3);
  });

  it('a dialog that keeps its keys to itself does not keep this one', () => {
    const {press, stops, host} = shell((b) => b.turning.set(true));
    const dialog = document.createElement('dialog');
    dialog.addEventListener('keydown', (event) => event.stopImmediatePropagation());
    host.append(dialog);
    press(dialog, space);
    expect(stops()).toBe(1);
  });

  it('stops what the reports say is turning, although no hold is known', () => {
    const {press, stops} = shell((b) => b.motors.set([{erpm: 4000, throttle: 0, asked: 1, lost: 0}]));
    press(document.createElement('input'), space);
    expect(stops()).toBe(1);
  });

  it('while nothing turns a space is typed in a text, Escape goes on to what listens, and both stop all the same elsewhere', () => {
    const {press, stops} = shell();
    expect(press(document.createElement('input'), space)).toEqual({heard: true, prevented: false});
    expect(stops()).toBe(0);
    expect(press(document.createElement('input'), {key: 'Escape', code: 'Escape'})).toEqual({
      heard: true,
      prevented: false,
    });
    expect(press(document.createElement('button'), space)).toEqual({heard: true, prevented: true});
    expect(stops()).toBe(2);
  });

  it('is gone with the page', () => {
    const {fixture, stops, bench} = shell((b) => b.turning.set(true));
    fixture.destroy();
    window.dispatchEvent(new KeyboardEvent('keydown', space));
    expect([stops(), bench.calls]).toEqual([0, []]);
  });
});
