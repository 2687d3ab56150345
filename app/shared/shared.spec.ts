import {gateLines, type GateState} from '@core/spin/hold/gate';
import {ChangeDetectionStrategy, Component, signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {BenchStore} from '../state/bench.store';
import {StandInStore} from '../state/stand-in.store';
import {buttons, button, fakeBench, fakeStandIn, textOf} from '../testing/fakes';
import {ConnectComponent} from './connect.component';
import {HoldButtonComponent} from './hold-button.component';
import {ProblemComponent} from './problem.component';
import {GateComponent} from './gate.component';

@Component({
  imports: [HoldButtonComponent],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template:
    '<bx-hold-button [disabled]="off()" (pressed)="log.push(\'down\')" (released)="log.push(\'up\')">Hold</bx-hold-button>',
})
class HoldHost {
  readonly off = signal(false);
  readonly log: string[] = [];
}

describe('hold button', () => {
  function hold() {
    const fixture = TestBed.createComponent(HoldHost);
    fixture.detectChanges();
    const element = button(fixture.nativeElement, 'Hold');
    element.setPointerCapture = () => undefined;
    const send = (event: Event) => element.dispatchEvent(event);
    const pointer = (type: string, button = 0) => send(Object.assign(new MouseEvent(type, {button}), {pointerId: 1}));
    const key = (type: string, repeat = false) => send(new KeyboardEvent(type, {key: 'Enter', repeat}));
    return {fixture, host: fixture.componentInstance, element, send, pointer, key};
  }

  it('acts from press to release, once each', () => {
    const {host, pointer} = hold();
    pointer('pointerdown');
    pointer('pointerup');
    pointer('pointerup');
    expect(host.log).toEqual(['down', 'up']);
  });

  it.each(['pointercancel', 'lostpointercapture', 'blur'])('%s lets go too', (type) => {
    const {host, pointer, send} = hold();
    pointer('pointerdown');
    send(new Event(type));
    expect(host.log).toEqual(['down', 'up']);
  });

  it('works with the Enter key, and a repeating key is one hold', () => {
    const {host, key} = hold();
    key('keydown');
    key('keydown', true);
    key('keydown', true);
    expect(host.log).toEqual(['down']);
    key('keyup');
    expect(host.log).toEqual(['down', 'up']);
  });

  it('takes the first mouse button only', () => {
    const {host, pointer} = hold();
    pointer('pointerdown', 2);
    expect(host.log).toEqual([]);
  });

  it('does nothing while disabled', () => {
    const {fixture, host, key, element} = hold();
    host.off.set(true);
    fixture.detectChanges();
    key('keydown');
    expect(host.log).toEqual([]);
    expect(element.disabled).toBe(true);
  });
});

describe('problem', () => {
  it('says place, meaning and remedy, and closes when it may', () => {
    const fixture = TestBed.createComponent(ProblemComponent);
    fixture.componentRef.setInput('problem', {
      code: 'x',
      place: 'motor 2',
      meaning: 'It is silent.',
      remedy: 'Connect the battery.',
    });
    fixture.detectChanges();
    expect(textOf(fixture.nativeElement)).toBe('motor 2 It is silent. Connect the battery.');
    let closed = 0;
    fixture.componentInstance.closed.subscribe(() => closed++);
    fixture.componentRef.setInput('closable', '');
    fixture.detectChanges();
    button(fixture.nativeElement, 'Close').click();
    expect(closed).toBe(1);
  });
});

const right: GateState = {
  connected: true,
  wiresTaken: undefined,
  power: {volts: 24.1, amps: 0.3, cycles: 1},
  turning: false,
  propsOff: undefined,
  firstPower: undefined,
};

describe('the gate', () => {
  function ask(change: (bench: ReturnType<typeof fakeBench>) => void = () => undefined) {
    const bench = fakeBench();
    change(bench);
    TestBed.configureTestingModule({
      providers: [
        {provide: BenchStore, useValue: bench},
        {provide: StandInStore, useValue: fakeStandIn(bench.calls)},
      ],
    });
    const fixture = TestBed.createComponent(GateComponent);
    fixture.detectChanges();
    return {bench, fixture, text: () => textOf(fixture.nativeElement)};
  }

  it('asks once per power-up', () => {
    const {bench, fixture, text} = ask();
    expect(text()).toContain('not confirmed');
    button(fixture.nativeElement, 'Propellers are off').click();
    expect(bench.calls).toEqual(['props off']);
    bench.gate.set(gateLines({...right, propsOff: {cycle: 1, at: 5}, firstPower: {at: 4, amps: 0.31}}));
    fixture.detectChanges();
    expect(text()).toContain('Propellers off, for this power-up.');
    expect(text()).toContain('Battery 24.1 V. ✓');
    expect(buttons(fixture.nativeElement)).toHaveLength(0);
  });

  it('says why there is nothing to confirm', () => {
    expect(ask((b) => b.gate.set(gateLines({...right, connected: false}))).text()).toContain(
      'The bench is not connected.',
    );
  });

  it('says that USB does not power ESCs', () => {
    expect(ask((b) => b.gate.set(gateLines({...right, power: undefined}))).text()).toContain('USB does not power them');
  });

  it('asks nothing while the craft draws too much', () => {
    const power = {volts: 24, amps: 4, cycles: 1};
    const {fixture, text} = ask((b) => b.gate.set(gateLines({...right, power})));
    expect(text()).toContain('4.00 A at rest');
    expect(buttons(fixture.nativeElement)).toHaveLength(0);
  });

  it('stands as it stood while something is held: a line more would move what a finger holds', () => {
    const open = {...right, propsOff: {cycle: 1, at: 5}, firstPower: {at: 4, amps: 0.31}};
    const {bench, fixture, text} = ask((b) => b.gate.set(gateLines(open)));
    const before = text();
    bench.turning.set(true);
    bench.gate.set(gateLines({...open, turning: true}));
    fixture.detectChanges();
    expect(text()).toBe(before);
    bench.turning.set(false);
    fixture.detectChanges();
    expect(text()).not.toBe(before);
  });

  it('in a work order says nothing of the wires, which are its own', () => {
    const own = ask((b) => b.gate.set(gateLines({...right, wiresTaken: 'A work order'})));
    own.fixture.componentRef.setInput('withinOrder', true);
    own.fixture.detectChanges();
    expect(own.text()).not.toContain('is using the connection');
  });
});

describe('the way to the bench', () => {
  function connect(change: (bench: ReturnType<typeof fakeBench>) => void) {
    const bench = fakeBench();
    change(bench);
    TestBed.configureTestingModule({
      providers: [
        {provide: BenchStore, useValue: bench},
        {provide: StandInStore, useValue: fakeStandIn(bench.calls)},
      ],
    });
    const fixture = TestBed.createComponent(ConnectComponent);
    fixture.detectChanges();
    return {bench, host: fixture.nativeElement as HTMLElement};
  }

  it('is one press away when the cable is out', () => {
    const {bench, host} = connect((b) => b.isConnected.set(false));
    button(host, 'Connect the simulated bench').click();
    expect(bench.calls).toEqual(['connect and survey']);
  });

  it('offers a survey when all is there', () => {
    const {bench, host} = connect(() => undefined);
    button(host, 'Survey the bench').click();
    expect(bench.calls).toEqual(['survey']);
  });

  it('does not offer one while an order has the wires', () => {
    const {host} = connect((b) => b.occupied.set(true));
    expect(button(host, 'Survey the bench').disabled).toBe(true);
  });

  it('says that the battery is off instead of asking silent ESCs', () => {
    const {host} = connect((b) => b.isPowered.set(false));
    expect(textOf(host)).toContain('The battery is off.');
    expect(host.querySelector('button')).toBeNull();
  });

  it('shows how far a survey is', () => {
    const {host} = connect((b) => b.surveying.set({share: 0.5, text: 'Motor 3'}));
    expect(host.querySelector('[role=progressbar]')!.getAttribute('aria-valuenow')).toBe('50');
    expect(textOf(host)).toContain('Surveying: Motor 3');
  });

  it('shows what went wrong, with its remedy', () => {
    const {host} = connect((b) => {
      b.isConnected.set(false);
      b.problem.set({code: 'cable-out', place: 'bench link', meaning: 'The cable is out.', remedy: 'Plug it in.'});
    });
    expect(textOf(host.querySelector('[role=alert]'))).toBe('bench link The cable is out. Plug it in. Close');
  });
});
