import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import type {Craft} from '@core/craft/craft';
import {juniper} from '@core/craft/juniper';
import type {Image} from '@core/firmware/image';
import type {Catalogue} from '@core/firmware/releases';
import type {Problem} from '@core/problem';
import type {Variant} from '@core/firmware/identity';
import {meridianImage} from '@simulator/meridian';
import {Harness} from '@simulator/testing/bench-harness';
import received from '../../../demo/catalogue.json';
import {BenchStore} from '../../state/bench.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {ShelfStore} from '../../state/shelf.store';
import {WorkStore} from '../../state/work.store';
import {button, fakeBench, textOf} from '../../testing/fakes';
import {FirmwareComponent} from './firmware.component';

const asFound = await new Harness().survey();
const catalogue = JSON.parse(received.catalogue) as Catalogue;
const images: Record<string, Image> = Object.fromEntries(
  catalogue.releases.map((r) => [
    r.sha256,
    meridianImage(r.version, {board: r.board, deadTimeNs: r.deadTimeNs, variant: r.variant as Variant}),
  ]),
);

function station(craft: Craft = juniper, found: typeof asFound | null = asFound) {
  const chosen: string[] = [];
  const problem = signal<Problem | undefined>(undefined);
  const {version} = craft.plan.firmware;
  const shelf = {
    catalogue: signal(catalogue),
    images: signal(images),
    loading: signal(false),
    problem,
    planned: signal(
      catalogue.releases.find((r) => r.version === version && r.board === craft.escBoard && r.variant === 'multirotor'),
    ),
    load: () => chosen.push('load'),
  };
  TestBed.configureTestingModule({
    providers: [
      {provide: BenchStore, useValue: fakeBench()},
      {
        provide: FleetStore,
        useValue: {current: signal(craft), setFirmware: (family: string, v: string) => chosen.push(`${family} ${v}`)},
      },
      {provide: RecordStore, useValue: {found: signal(found ?? undefined)}},
      {provide: ShelfStore, useValue: shelf},
      {provide: WorkStore, useValue: {open: signal(undefined)}},
    ],
  });
  const fixture = TestBed.createComponent(FirmwareComponent);
  fixture.detectChanges();
  const host = fixture.nativeElement as HTMLElement;
  const cards = () =>
    [...host.querySelectorAll('.card')].map((c) => ({
      text: textOf(c),
      chosen: c.getAttribute('aria-checked') === 'true',
    }));
  return {fixture, host, cards, chosen, problem, text: () => textOf(host)};
}

describe('firmware station', () => {
  it('offers what fits, newest first, with the planned one chosen', () => {
    const {cards} = station();
    expect(cards().map((c) => c.text.split(' ')[0])).toEqual(['4.3-b1', '4.2', '4.1']);
    expect(cards().map((c) => c.chosen)).toEqual([false, true, false]);
    expect(cards()[0]!.text).toContain('Open fault: start-up stutter below 30 °C');
    expect(cards()[0]!.text).toContain('with care, 4 of 4');
  });

  it('folds away what lacks replies, and offers it when asked', () => {
    const {host, cards, fixture} = station();
    button(host, 'Show 2 older releases').click();
    fixture.detectChanges();
    expect(cards()).toHaveLength(5);
    expect(cards()[4]!.text).toContain('Does not answer bidirectional DShot, which the plan wants.');
  });

  it('never offers a heli variant, another board or a withdrawn release, and says why', () => {
    const {host, fixture, text, cards} = station();
    expect(cards().some((c) => c.text.startsWith('4.0'))).toBe(false);
    button(host, '3 releases are refused').click();
    fixture.detectChanges();
    expect(text()).toContain('It would burn the bridge.');
    expect(text()).toContain('Made for heli-main: a governor holds its speed');
    expect(text()).toContain('Withdrawn: current limit ignored after a desync.');
  });

  it('plans the release that was pressed, and writes nothing by it', () => {
    const {host, chosen} = station();
    button(host, '4.1').click();
    expect(chosen).toEqual(['Meridian 4.1']);
  });

  it('explains the odd one out first, and any other motor when asked', async () => {
    const {host, text, fixture} = station();
    expect(text()).toContain('Why 4.2 fits motor 3');
    expect(text()).toContain('33 pages to write');
    expect(text()).toContain('Layout 5 → 8: brake strength, lowest start-up power move; start-up melody is new');
    await fixture.whenStable();
    [...host.querySelectorAll<HTMLElement>('.p-togglebutton')].find((b) => textOf(b) === 'motor 1')!.click();
    fixture.detectChanges();
    expect(text()).toContain('Why 4.2 fits motor 1');
    expect(text()).toContain('17 pages to write');
  });

  it('shows the signature on both sides', () => {
    expect(station().text()).toContain('gneiss45/m32/45ns = gneiss45/m32/45ns');
  });

  it('marks the odd one out, and a half-written ESC', () => {
    expect(station().text()).toContain('Meridian 3.7, odd one out');
    TestBed.resetTestingModule();
    const broken = {...asFound, escs: asFound.escs.map((e) => (e.output === 1 ? {...e, identity: undefined} : e))};
    expect(station(juniper, broken).text()).toContain('half-written, in its bootloader');
  });

  it('a shelf in trouble says so and can be loaded again', () => {
    const {host, problem, fixture, chosen, text} = station();
    problem.set({
      code: 'service-down',
      place: 'release service',
      meaning: 'It cannot be reached.',
      remedy: 'Try again later.',
    });
    fixture.detectChanges();
    expect(text()).toContain('release service It cannot be reached. Try again later.');
    button(host, 'Load the releases again').click();
    expect(chosen).toEqual(['load']);
  });

  it('without a survey it shows the way to one', () => {
    const {text, cards} = station(juniper, null);
    expect(cards()).toEqual([]);
    expect(text()).toContain('Nothing was surveyed yet.');
  });
});
