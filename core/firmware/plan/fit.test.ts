/** Every reason of the fit, with the words a person reads. */
import {describe, expect, it} from 'vitest';
import {cadenceImage} from '@simulator/firmware/cadence';
import {meridianImage} from '@simulator/firmware/meridian';
import {moduleImage} from '@simulator/firmware/reply-module';
import {defaultSettings} from '../../settings/page';
import {chips} from '../chips';
import {judgeFit, type FitCheck, type FitQuestion} from './fit';
import {checkApplication, compareVersions, isWithin, type Identity} from '../identity';
import {flatten, type Image} from '../image';
import {regionOf} from './page-plan';

const schist = {board: 'Schist 40', chip: 'M32', deadTimeNs: 40};
const chalk = {board: 'Chalk 5', chip: 'K8', deadTimeNs: 300};
const wishes = {replies: true, protocol: 'dshot300', module: false, variant: 'multirotor'} as const;
const layout6 = {layout: 6, values: defaultSettings(6)} as const;
const identityIn = (image: Image, chip: 'M32' | 'K8', part: 'base' | 'module' = 'base'): Identity => {
  const check = checkApplication(flatten(image, regionOf(chips[chip], part)));
  if (!check.ok) throw new Error(check.problem);
  return check.value;
};
const base39 = meridianImage('3.9', schist);
const module11 = moduleImage('1.1', schist);
const ask = (over: Partial<FitQuestion>) =>
  judgeFit({hardware: schist, image: base39, wishes, standing: 'steady', settings: layout6, ...over});
/** Verdict and words of one reason. */
const told = (check: FitCheck, over: Partial<FitQuestion>) => {
  const reason = ask(over).reasons.find((r) => r.check === check);
  return reason && [reason.verdict, reason.text];
};

describe('versions', () => {
  it.each([
    ['3.9', '4.0', -1],
    ['4.10', '4.9', 1],
    ['4.3-b1', '4.3', 0],
    ['2.0', '2.0', 0],
  ])('%s against %s', (a, b, sign) => expect(Math.sign(compareVersions(a, b))).toBe(sign));
  it('bounds hold both ends', () => {
    const bounds = {lowest: '3.8', highest: '3.9'};
    expect(['3.7', '3.8', '3.9', '4.0'].map((v) => isWithin(v, bounds))).toEqual([false, true, true, false]);
  });
});

describe('the bootloader', () => {
  it('must be new enough for the image', () => {
    expect(told('bootloader', {image: meridianImage('4.2', schist), bootRevision: 2})).toEqual([
      'refused',
      'This ESC has bootloader revision 2; 4.2 requires 3 or newer. It could not start it.',
    ]);
    expect(told('bootloader', {bootRevision: 2})).toEqual(['holds', 'Revision 2, 3.9 requires 2 or newer.']);
  });
});

describe('settings', () => {
  it('that move are told one by one', () =>
    expect(told('settings', {image: meridianImage('4.2', schist), bootRevision: 3})).toEqual([
      'holds',
      'Layout 6 → 8: brake strength, lowest start-up power, throttle centre, lost-craft tone, lost-craft wait move; ' +
        'lowest PWM frequency, highest PWM frequency, spin-up limit, start-up melody, reply extras are new and start at their defaults. Values are carried over.',
    ]));
  it('that would be dropped or are out of range want care, with their values', () => {
    const values = {...defaultSettings(8), melody: 2, startHigh: 1297};
    expect(told('settings', {settings: {layout: 8, values}})).toEqual([
      'care',
      'Layout 8 → 6: brake strength, lowest start-up power, throttle centre, lost-craft tone, lost-craft wait move; ' +
        'dropped, with its last value: start-up melody falling; dropped at their defaults: ' +
        'lowest PWM frequency, highest PWM frequency, spin-up limit, reply extras; ' +
        'out of range and back at its default: highest start-up power. Values are carried over.',
    ]);
  });
  it('that cannot be read want care', () =>
    expect(told('settings', {settings: undefined})).toEqual([
      'care',
      'Settings are not readable; the plan and defaults are written, calibration is lost.',
    ]));
  it('of the same layout stay', () =>
    expect(told('settings', {})).toEqual(['holds', 'Layout 6 stays; nothing moves.']));
});

describe('a reply module', () => {
  const on = (over: Partial<FitQuestion>) => ({image: module11, part: 'module' as const, ...over});
  it('goes on a base within its bounds, in its own region', () => {
    const fit = ask(on({base: identityIn(base39, 'M32')}));
    expect(fit.verdict).toBe('fits');
    expect(fit.reasons.find((r) => r.check === 'flash')?.text).toContain('5 pages from 0xE000');
  });
  it('is refused on another base, on none, and as a base', () => {
    expect(told('base', on({base: identityIn(meridianImage('3.7', schist), 'M32')}))).toEqual([
      'refused',
      'The module needs Meridian 3.8 to 3.9; the base is Meridian 3.7.',
    ]);
    expect(told('base', on({base: undefined}))?.[1]).toBe(
      'The module needs Meridian 3.8 to 3.9 below it; base firmware is missing.',
    );
    expect(ask({image: module11}).verdict).toBe('refused');
    expect(told('flash', {image: base39, part: 'module'})?.[1]).toContain('the reply module of M32 lies from 0xE000');
  });
  it('is refused on a chip without a region for it', () =>
    expect(judgeFit({...on({}), hardware: chalk, wishes, standing: 'steady'}).reasons[0]!.text).toBe(
      'K8 has no region for a reply module.',
    ));
  it('keeps a base out of its region when it is planned', () => {
    const {start, bytes} = base39.segments[0]!;
    const long: Image = {segments: [{start, bytes: Uint8Array.from([...bytes, ...new Uint8Array(12 * 1024)])}]};
    expect(told('flash', {image: long, wishes: {...wishes, module: true}})?.[1]).toBe(
      "The image reaches into the reply module's region at 0xE000.",
    );
  });
  it('gives the replies its base lacks', () =>
    expect(told('replies', {wishes: {...wishes, module: true}})).toEqual([
      'holds',
      'Its replies come from the reply module planned on top.',
    ]));
});

describe('replies and protocol', () => {
  const image = cadenceImage('2.1', 48);
  const sorrel = {hardware: chalk, image, settings: {layout: 3, values: defaultSettings(3)}} as const;
  it('ask for flight-controller firmware that listens', () => {
    const needs = 'Plumb 2.2';
    expect(told('replies', {...sorrel, controller: {needs, found: 'Plumb 2.0'}})).toEqual([
      'care',
      'Answers bidirectional DShot, and requires a flight controller with Plumb 2.2; it runs Plumb 2.0, which does not listen. Update the flight controller as well.',
    ]);
    for (const found of ['Plumb 2.2', undefined])
      expect(told('replies', {...sorrel, controller: {needs, found}})?.[0]).toBe('holds');
  });
  it('faster than the chip hears want care (K8: DShot300, hardware.md)', () => {
    expect(told('protocol', {...sorrel, wishes: {...wishes, protocol: 'dshot600'}})).toEqual([
      'care',
      "The plan's DShot600 with replies is faster than K8 receives: replies would be lost. Plan DShot300.",
    ]);
    expect(told('protocol', sorrel)).toBeUndefined();
  });
  it('the PWM build is the planned one, or wants care', () => {
    expect(told('pwm', {...sorrel, wishes: {...wishes, pwmKhz: 48}})).toEqual([
      'holds',
      'Built for 48 kHz, as planned.',
    ]);
    expect(told('pwm', {...sorrel, wishes: {...wishes, pwmKhz: 96}})).toEqual([
      'care',
      'Built for 48 kHz; the plan says 96 kHz.',
    ]);
  });
});

describe('who says so', () => {
  it('a claimed board wants care, with the claimant and the day', () => {
    const claim = {...schist, serial: 's', by: 'the bench hand', at: Date.UTC(2026, 10, 23)};
    expect(told('claim', {claim})).toEqual([
      'care',
      'the bench hand said on 2026-11-23 that this is a Schist 40. Nothing in the ESC confirms it: a wrong board burns.',
    ]);
  });
  it('an own file is unsigned; a withdrawn release stays refused', () => {
    expect(told('standing', {standing: undefined})).toEqual(['care', 'A file of your own: it is not signed.']);
    expect(told('standing', {standing: 'withdrawn'})).toEqual(['refused', 'Withdrawn by its makers.']);
  });
  it('the same firmware in the same version is the safe choice (common practice)', () => {
    const current = identityIn(base39, 'M32');
    expect(told('same', {current})?.[1]).toContain('writing it again is the safe choice');
    expect(told('same', {current: {...current, bodyCrc32: 1}})).toBeUndefined();
  });
});
