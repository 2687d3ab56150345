/** What ESCs sound after power-up: by the firmware that they run, where the catalogue knows it, else as is typical. */
import {sameJson} from '../../canonical-json';
import {wantedFirmware} from '../../craft/motor-firmware';
import {motorList} from '../../words/motor-list';
import {firmwareName} from '../../firmware/plan/firmware-plan';
import {releaseName, releaseOf, type Release} from '../../firmware/releases';
import type {JudgedCraft} from '../craft-question';

export type StartTones = NonNullable<Release['tones']>;

export interface StartSound {
  /** Firmware and, where not all motors run it, whose; empty for the typical one. */
  readonly of: string;
  readonly text: string;
  readonly tones: StartTones;
}

/** Typical in the trade: three rising tones, then two. The pitches are our own. */
export const typicalTones: StartTones = {
  power: [
    {hz: 880, ms: 160},
    {hz: 1047, ms: 160},
    {hz: 1319, ms: 200},
  ],
  signal: [
    {hz: 1047, ms: 140},
    {hz: 1568, ms: 260},
  ],
};

/** One for each that is heard on the craft, with the firmware that sounds so; as planned while nothing was found. */
export function startSounds(q: Pick<JudgedCraft, 'craft' | 'record' | 'releases'> | undefined): readonly StartSound[] {
  const known = q && [...ofFound(q), ...ofPlan(q)];
  return known?.length ? known : [soundOf('', typicalTones)];
}

function ofFound({craft, record, releases}: Pick<JudgedCraft, 'craft' | 'record' | 'releases'>): StartSound[] {
  const heard = (record.found?.escs ?? []).flatMap(({output, identity}) => {
    const release = identity && releaseOf(releases ?? [], identity);
    return release?.tones ? [{output, name: releaseName(release), tones: release.tones}] : [];
  });
  const kinds = heard.filter(({tones}, i) => heard.findIndex((h) => sameJson(h.tones, tones)) === i);
  return kinds.map((kind) => {
    const same = heard.filter(({tones}) => sameJson(tones, kind.tones));
    const outputs = same.map(({output}) => output);
    const names = [...new Set(same.map(({name}) => name))].join(' and ');
    const isAll = outputs.length === craft.arms.length;
    return soundOf(isAll ? names : `${names}, ${motorList(outputs, craft.arms.length)}`, kind.tones);
  });
}

function ofPlan({craft, record, releases}: Pick<JudgedCraft, 'craft' | 'record' | 'releases'>): StartSound[] {
  if (record.found) return [];
  const {firmware} = craft.plan;
  const {family, version, variant} = wantedFirmware(craft, 0);
  const release = releaseOf(releases ?? [], {family, version, variant, board: craft.escBoard});
  return release?.tones ? [soundOf(`${firmwareName(firmware)}, as planned`, release.tones)] : [];
}

const soundOf = (of: string, tones: StartTones): StartSound => ({
  ...{of, tones},
  text: `${shapeOf(tones.power)} say that an ESC has power and runs its firmware; ${shapeOf(tones.signal)} more that it receives the throttle signal.`,
});

const numbers = ['no', 'one', 'two', 'three', 'four', 'five', 'six'];

/** "three rising tones". */
function shapeOf(tones: StartTones['power']): string {
  const count = numbers[tones.length] ?? String(tones.length);
  const steps = tones.slice(1).map(({hz}, i) => Math.sign(hz - tones[i]!.hz));
  const all = (sign: number) => steps.length > 0 && steps.every((s) => s === sign);
  const way = all(1) ? 'rising ' : all(-1) ? 'falling ' : all(0) ? 'equal ' : '';
  return `${count} ${way}${tones.length === 1 ? 'tone' : 'tones'}`;
}
