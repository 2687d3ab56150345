import {signal} from '@angular/core';
import {TestBed} from '@angular/core/testing';
import type {Craft} from '@core/craft/craft';
import {juniper} from '@demo/craft/juniper';
import type {Catalogue} from '@core/firmware/releases';
import type {ShelfNow} from '@core/sheets/firmware/firmware';
import type {Problem} from '@core/problem';
import type {FirmwarePlan} from '@core/firmware/plan/firmware-plan';
import {demoCraft, Harness, shelf as memoryShelf} from '@simulator/testing/bench-harness';
import received from '../../../demo/catalogue.json';
import {BenchStore} from '../../state/bench.store';
import {StandInStore} from '../../state/stand-in.store';
import {FleetStore} from '../../state/fleet.store';
import {RecordStore} from '../../state/record.store';
import {ShelfStore} from '../../state/shelf.store';
import {WorkStore} from '../../state/work.store';
import {fakeRecord} from '../../testing/fake-record';
import {button, fakeBench, fakeStandIn, textOf} from '../../testing/fakes';
import {FirmwareComponent} from './firmware.component';

const asFound = await new Harness().survey();
const catalogue = JSON.parse(received.catalogue) as Catalogue;

function station(craft: Craft = juniper, found: typeof asFound | null = asFound) {
  const chosen: string[] = [];
  const problem = signal<Problem | undefined>(undefined);
  const rewrite = signal<number[]>([]);
  const claims: string[] = [];
  const shelf = {
    catalogue: signal(catalogue),
    loading: signal(false),
    problem,
    imageFor: memoryShelf.imageFor.bind(memoryShelf),
    boardOf: () => undefined,
    nowFor: (of: Craft): ShelfNow => ({
      ...{releases: catalogue.releases, own: [], imageFor: memoryShelf.imageFor(of)},
      imageOf: (release) => memoryShelf.find((r) => r.id === release.id),
      modulesFor: (board) => catalogue.releases.filter((r) => r.variant === 'reply-module' && r.board === board),
    }),
    load: () => chosen.push('load'),
  };
  const leave = signal<number[]>([]);
  const work = {
    leave,
    toggleLeave: (o: number) => leave.set([o]),
    open: signal(undefined),
    now: signal({open: undefined}),
    running: signal(false),
    rewrite,
    toggleRewrite: (o: number) => rewrite.set([o]),
  };
  TestBed.configureTestingModule({
    providers: [
      {provide: BenchStore, useValue: fakeBench()},
      {provide: StandInStore, useValue: fakeStandIn()},
      {
        provide: FleetStore,
        useValue: {
          current: signal(craft),
          currentId: signal(craft.id),
          setFirmware: (f: FirmwarePlan) =>
            chosen.push([f.family, f.version, f.pwmKhz, f.module].filter(Boolean).join(' ')),
        },
      },
      {
        provide: RecordStore,
        useValue: {
          ...fakeRecord({craftId: craft.id, found: found ?? undefined}),
          addClaim: (c: {board: string; by: string}) => claims.push(`${c.board} by ${c.by}`),
        },
      },
      {provide: ShelfStore, useValue: shelf},
      {provide: WorkStore, useValue: work},
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
  return {fixture, host, cards, chosen, claims, problem, text: () => textOf(host)};
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
    button(host, '10 images are refused').click();
    fixture.detectChanges();
    expect(text()).toContain('It would burn the bridge.');
    expect(text()).toContain('Made for heli-main: a governor holds its speed');
    expect(text()).toContain('Withdrawn: current limit ignored after a desync.');
    expect(text()).toContain('3 for Basalt 30 refused');
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
    expect(text()).toContain(
      'Layout 5 → 8: brake strength, lowest start-up power, lost-craft tone, lost-craft wait move; lowest PWM frequency',
    );
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
    const broken = {
      ...asFound,
      escs: asFound.escs.map((e) =>
        e.output === 1 ? {...e, boot: {...e.boot, applicationValid: false}, identity: undefined} : e,
      ),
    };
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

  it('offers the safe re-write where the planned image is already there', () => {
    const plan = {...juniper.plan, firmware: {family: 'Meridian', version: '3.9'}};
    const {host, text, fixture} = station({...juniper, plan}, {...asFound, escs: asFound.escs.slice(0, 2)});
    expect(text()).toContain('writing it again is the safe choice');
    button(host, 'Write 3.9 again').click();
    fixture.detectChanges();
    expect(text()).toContain('41 pages to write');
  });

  it('a motor can be left out of the order, and is marked so', () => {
    const {host, fixture} = station();
    const third = () => host.querySelector<HTMLButtonElement>('[aria-label^="Motor 3 is"]')!;
    third().click();
    fixture.detectChanges();
    expect(textOf(third())).toBe('skipped');
    expect(third().getAttribute('aria-label')).toBe('Motor 3 is skipped, include it');
  });

  it('lets the PWM build be chosen for a family that builds it in', async () => {
    const sorrel = demoCraft('sorrel');
    const {cards, host, chosen, text, fixture} = station(sorrel, await new Harness({craft: sorrel}).survey());
    expect(cards().map((c) => c.text.split(' fits')[0])).toEqual(['2.1, 48 kHz', '2.0, 48 kHz']);
    expect(text()).toContain('PWM frequency, built into the image');
    await fixture.whenStable();
    [...host.querySelectorAll<HTMLElement>('.p-togglebutton')].find((b) => textOf(b) === '96 kHz')!.click();
    expect(chosen).toEqual(['Cadence 2.1 96']);
  });

  it('says which base a reply module goes on, and why newer firmware is refused', async () => {
    const bramble = demoCraft('bramble');
    const {host, text, fixture} = station(bramble, await new Harness({craft: bramble}).survey());
    expect(text()).toContain('Reply module on top of 3.9');
    expect(text()).toContain('Meridian 3.9 lies within Meridian 3.8 to 3.9.');
    button(host, '13 images are refused').click();
    fixture.detectChanges();
    expect(text()).toContain('This ESC has bootloader revision 2; 4.2 requires 3 or newer.');
  });

  it('an ESC that does not report its board: found in the catalogue, its name typed, and who said so', async () => {
    const alder = demoCraft('alder');
    const {host, text, claims, fixture} = station(alder, await new Harness({craft: alder}).surveyRound());
    expect(text()).toContain('Motor 4 does not report its board');
    const type = async (input: HTMLInputElement, value: string) => {
      input.value = value;
      input.dispatchEvent(new Event('input'));
      fixture.detectChanges();
      await fixture.whenStable();
    };
    const inputs = () => [...host.querySelectorAll<HTMLInputElement>('bx-board-claim input')];
    await type(inputs()[0]!, 'bsl 30a');
    const rows = () => [...host.querySelectorAll('bx-board-claim tbody tr')].map(textOf);
    expect(rows()).toHaveLength(1);
    button(host, 'This one').click();
    fixture.detectChanges();
    const confirm = button(host, 'Confirm: it is a Basalt 30');
    await type(inputs()[1]!, 'Basalt');
    expect(confirm.disabled).toBe(true);
    expect(text()).toContain('"Basalt" is not "Basalt 30" yet.');
    await type(inputs()[1]!, 'Basalt 30');
    await type(inputs()[2]!, 'bench hand');
    expect(confirm.disabled).toBe(false);
    confirm.click();
    expect(claims).toEqual(['Basalt 30 by bench hand']);
  });
});
