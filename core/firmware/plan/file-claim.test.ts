/** Files that do not say themselves that they fit: refused, unless a person says why; a debug build is cared about and asked. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {meridianImage} from '@simulator/firmware/meridian';
import {Harness} from '@simulator/testing/bench-harness';
import type {Craft} from '../../craft/craft';
import {makeWorkOrder} from '../../run/order/make-order';
import {claimableFiles, firmwareCards} from '../../sheets/firmware/firmware-cards';
import {checkApplication, identityBytes, writeIdentity} from '../identity';
import type {Image} from '../image';
import {judgeFit, type FitQuestion} from './fit';
import {planBack} from './kept-application';

const gneiss = {board: 'Gneiss 45', chip: 'M32', deadTimeNs: 45};
const claim = {
  by: 'the bench hand',
  why: 'Built from the same drawing, compared part by part.',
  at: Date.UTC(2026, 10, 3),
};
const wishes = {replies: true, protocol: 'dshot300', module: false, variant: 'multirotor'} as const;
const image = meridianImage('4.2', gneiss);
const [{bytes, start}] = image.segments as [Image['segments'][number]];
const body = bytes.slice(identityBytes);
const unnamed: Image = {segments: [{start, bytes: body}]};
const sister = meridianImage('4.2', {board: 'Gneiss 46', deadTimeNs: 45});
const slower = meridianImage('4.2', {board: 'Gneiss 46', deadTimeNs: 60});
const check = checkApplication(bytes);
if (!check.ok) throw new Error(check.problem);
const debug: Image = {
  segments: [
    {
      start,
      bytes: Uint8Array.of(
        ...writeIdentity({...check.value, features: [...check.value.features, 'debug']}, body),
        ...body,
      ),
    },
  ],
};
const fit = (over: Partial<FitQuestion>) => judgeFit({hardware: gneiss, image, wishes, standing: undefined, ...over});

describe('a file by claim', () => {
  it('without an identity is refused, and goes on with care by what a person says', () => {
    expect(fit({image: unnamed}).reasons.at(-1)).toMatchObject({check: 'identity', verdict: 'refused'});
    const {verdict, reasons} = fit({image: unnamed, fileClaim: claim});
    expect([verdict, reasons.map((r) => r.check)]).toEqual(['fits with care', ['flash', 'file']]);
    expect(reasons[1]!.text).toBe(
      'the bench hand said on 2026-11-03 that it belongs here: Built from the same drawing, compared part by part. Nothing in the file confirms it: a wrong image burns.',
    );
    // Whoever says what: nothing reaches into the bootloader.
    const low: Image = {segments: [{start: 0x800, bytes: body}]};
    expect(fit({image: low, fileClaim: claim}).verdict).toBe('refused');
  });

  it('of a board with the same chip and dead time goes on, of another dead time never', () => {
    expect(fit({image: sister}).verdict).toBe('refused');
    expect(
      fit({image: sister, fileClaim: claim})
        .reasons.filter((r) => r.verdict === 'care')
        .map((r) => r.check),
    ).toEqual(expect.arrayContaining(['board', 'file']));
    expect(fit({image: sister, fileClaim: claim}).verdict).toBe('fits with care');
    expect(fit({image: slower, fileClaim: claim}).verdict).toBe('refused');
  });

  it('is offered for a claim only where one could help', async () => {
    const found = await new Harness().survey();
    const file = (name: string, own: Image) => ({
      ...{name, sha256: name, image: own, standing: undefined, addedAt: 1, sizeBytes: 1},
    });
    const own = [
      file('unnamed', unnamed),
      file('sister', sister),
      file('slower', slower),
      file('right', image),
      {...file('kept', unnamed), readFrom: [{serial: 'G45-1', at: 1, page: ''}]},
    ];
    const files = claimableFiles({craft: juniper, found, own});
    expect(files.map((f) => [f.name, f.board, f.firmware.family])).toEqual([
      ['unnamed', 'Gneiss 45', 'foreign firmware'],
      ['sister', 'Gneiss 45', 'Meridian'],
    ]);
  });

  it('is written as it is, and the ESC’s settings are left alone', async () => {
    const h = new Harness();
    const found = await h.survey();
    const craft: Craft = {...juniper, plan: {...juniper.plan, firmware: {...planBack('mine'), claim}}};
    const planned = {name: 'mine.hex', sha256: 'mine', image: unnamed, standing: undefined};
    const order = makeWorkOrder({id: 'x', at: 1, craft, found, imageFor: () => planned, leaveSteps: ['prove-replies']});
    if (!order.ok) throw new Error(order.problem.meaning);
    expect(order.value.steps.filter((s) => s.kind === 'write-firmware')).toHaveLength(4);
    expect(order.value.steps.filter((s) => s.kind === 'set-parameters')).toEqual([]);
    const refused = makeWorkOrder({
      ...{id: 'x', at: 1, found, imageFor: () => planned},
      craft: {...craft, plan: {...craft.plan, firmware: planBack('mine')}},
    });
    expect(!refused.ok && refused.problem.code).toBe('no-fit');
  });
});

describe('a debug build', () => {
  it('fits with care, and is asked about before it is planned', async () => {
    expect(fit({image: debug}).reasons.find((r) => r.check === 'build')).toMatchObject({verdict: 'care'});
    expect(fit({}).reasons.find((r) => r.check === 'build')).toBeUndefined();
    const found = await new Harness().survey();
    const file = {name: 'd.hex', sha256: 'd', image: debug, standing: undefined, addedAt: 1, sizeBytes: 1};
    const cards = firmwareCards({craft: juniper, found, releases: [], imageOf: () => undefined, own: [file]});
    expect(cards.offered.map((c) => [c.title, c.asks])).toEqual([['4.2', expect.stringContaining('debug build')]]);
  });
});
