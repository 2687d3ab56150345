/** What Firmware says: what runs, what is offered and folded, and why an image fits an ESC. */
import {describe, expect, it} from 'vitest';
import {juniper} from '@demo/craft/juniper';
import {demoCraft, Harness, shelf as onShelf} from '@simulator/testing/bench-harness';
import received from '../../../demo/catalogue.json';
import type {Craft} from '../../craft/craft';
import type {Catalogue, Release} from '../../firmware/releases';
import {emptyQuestion, questionOf} from '../../testing/question-of';
import {firmwareSheet, withModule, type FirmwareQuestion, type ShelfNow} from './firmware';

const {releases} = JSON.parse(received.catalogue) as Catalogue;
const shelfOf = (craft: Craft): ShelfNow => ({
  ...{releases, own: [], imageFor: onShelf.imageFor(craft)},
  imageOf: (release) => onShelf.find((r) => r.id === release.id),
  modulesFor: (board) => releases.filter((r: Release) => r.variant === 'reply-module' && r.board === board),
});
const old = await new Harness().survey();
const sheet = (craft: Craft, found = old, more: Partial<FirmwareQuestion> = {}) =>
  firmwareSheet({
    ...{craft: questionOf(craft, {record: {found}}), shelf: shelfOf(craft), work: {open: undefined}},
    ...{leave: [], rewrite: [], picked: undefined},
    ...more,
  });

describe('the firmware sheet', () => {
  it('of a craft that nobody has connected offers nothing', () => {
    const none = sheet(juniper, old, {craft: emptyQuestion(juniper)});
    expect(none).toMatchObject({escs: [], unknown: [], why: undefined, hasKnownBoard: false});
    expect(none.cards).toMatchObject({offered: [], lacking: '', refusedText: ''});
  });

  it('marks the odd one out, and shows why the planned image fits it', () => {
    const {escs, why} = sheet(juniper);
    expect(escs.map((e) => e.firmware.isOff)).toEqual([false, false, true, false]);
    expect(escs[2]!.firmware.text).toBe('Meridian 3.7, odd one out');
    expect(escs[2]).toMatchObject({arm: juniper.arms[juniper.plan.controller.arms[2]!]!.name, isSkipped: false});
    expect([why!.esc.output, why!.title, why!.isSame]).toEqual([2, '4.2', false]);
    expect(why!.main.every((r) => r.verdict !== 'refused')).toBe(true);
    expect(sheet(juniper, old, {picked: 0}).why!.esc.output).toBe(0);
  });

  it('lists what changes on the way to the planned version, and what a way back loses', () => {
    const {notes} = sheet(juniper).why!;
    expect(notes.goesBack).toBe(false);
    expect(notes.lines.map((n) => n.version)).toEqual(['3.9', '4.1', '4.2']);
    expect(notes.lines[0]!.text).toBe('Smoother low throttle.');
    const back: Craft = {...juniper, plan: {...juniper.plan, firmware: {family: 'Meridian', version: '3.7'}}};
    expect(sheet(back, old, {picked: 0}).why!.notes).toMatchObject({goesBack: true, lines: [{version: '3.9'}]});
    const none = {...shelfOf(juniper), releases: []};
    expect(sheet(juniper, old, {shelf: none}).why!.notes.lines).toEqual([]);
  });

  it('folds away older releases that lack something, and never one of several reasons to refuse', () => {
    const {cards} = sheet(juniper);
    expect(cards.offered.map((c) => c.title)).toEqual(['4.3-b1', '4.2', '4.1']);
    expect([cards.all.length, cards.lacking, cards.refusedText]).toEqual([
      ...[5, '2 older releases that lack', '10 images are refused'],
    ]);
    expect(cards.refused.find((r) => r.sign === 'withdrawn')!.why).toContain('Withdrawn: current limit ignored');
  });

  it('one that runs the planned version already may be written again, in full', async () => {
    const h = new Harness();
    await h.carryOut(await h.order({leaveSteps: ['prove-replies']}));
    const found = await h.survey();
    const now = sheet(juniper, found).why!;
    expect([now.isSame, now.isWrittenAgain, now.plan.toWrite.length]).toEqual([true, false, 0]);
    const again = sheet(juniper, found, {rewrite: [now.esc.output]}).why!;
    expect([again.isWrittenAgain, again.plan.toWrite.length > 0]).toEqual([true, true]);
  });

  it('offers builds and reply modules where the board has them', async () => {
    const sorrel = demoCraft('sorrel');
    expect(sheet(sorrel, await new Harness({craft: sorrel}).survey()).builds.map((b) => b.label)).toEqual([
      ...['24 kHz', '48 kHz', '96 kHz'],
    ]);
    const bramble = demoCraft('bramble');
    const [none, ...modules] = sheet(bramble, await new Harness({craft: bramble}).survey()).modules;
    expect([none!.value, modules.length > 0]).toEqual(['', true]);
    expect(withModule(bramble.plan.firmware, '')).not.toHaveProperty('module');
    expect(withModule(juniper.plan.firmware, '1.1').module).toBe('1.1');
  });
});
