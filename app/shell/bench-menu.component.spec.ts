import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import {describe, expect, it} from 'vitest';
import type {ListedPort} from '@core/link/bridge';
import {failure, success, type Result} from '@core/problem';
import {BenchStore} from '../state/bench.store';
import {ChosenPort, usualBridge} from '../state/chosen-port';
import {fakeBench} from '../testing/fakes';
import {BenchMenuComponent} from './bench-menu.component';

const modem: ListedPort = {path: '/dev/ttyS0'};
const board: ListedPort = {path: '/dev/ttyACM0', vendor: '0483', product: '5740'};
const refused = failure({code: 'wrong-code', place: 'bridge', meaning: 'Not that code.', remedy: 'Type the other.'});

/** The menu of a craft that is reached by a bridge, which answers each list in turn. */
function render(answers: readonly Result<readonly ListedPort[] | undefined>[]) {
  const left = [...answers];
  const chosen = {
    of: () => usualBridge,
    helped: () => '',
    code: signal('ABCDEFGH'),
    bridgePorts: () => Promise.resolve(left.shift()!),
  };
  const bench = {...fakeBench(), status: signal('unplugged'), isConnected: signal(false), roundTrips: () => []};
  TestBed.configureTestingModule({
    providers: [
      {provide: BenchStore, useValue: bench},
      {provide: ChosenPort, useValue: chosen},
    ],
  });
  const fixture = TestBed.createComponent(BenchMenuComponent);
  fixture.componentRef.setInput('craftId', 'juniper');
  fixture.componentRef.setInput('craftName', 'Juniper');
  fixture.detectChanges();
  const text = () => document.body.textContent?.replace(/\s+/g, ' ') ?? '';
  const list = async () => {
    [...document.querySelectorAll('button')].find((b) => b.textContent.includes('List its ports'))!.click();
    await fixture.whenStable();
    fixture.detectChanges();
  };
  return {text, list};
}

describe('the bench menu at a bridge', () => {
  it('tells by two lists which port the board is, and helps where none came', async () => {
    const {text, list} = render([success([modem]), success([modem, board]), success([modem, board])]);
    await list();
    expect(text()).toContain('list again');
    await list();
    expect(text()).toContain('New since the list before: /dev/ttyACM0, 0483:5740.');
    expect(text()).not.toContain('No port appeared');
    await list();
    expect(text()).toContain('No port came or went since the list before.');
    expect(text()).toContain('The cable carries power only');
  });

  it('says that no port is there, that one was chosen in the terminal, and what stood in the way', async () => {
    const {text, list} = render([success([]), success(undefined), refused, success([board])]);
    await list();
    expect(text()).toContain('No port is plugged in.');
    await list();
    expect(text()).toContain('Its port was chosen in its terminal.');
    expect(text()).not.toContain('No port is plugged in.');
    await list();
    expect(text()).toContain('Not that code.');
    expect(text()).not.toContain('Its port was chosen');
    // A list from before something stood in the way is compared with nothing.
    await list();
    expect(text()).toContain('list again');
  });
});
