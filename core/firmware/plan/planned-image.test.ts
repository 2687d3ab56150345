/** One choice of an image, by the application, the drill and the tests alike. */
import {describe, expect, it} from 'vitest';
import {publishedReleases} from '@simulator/firmware/releases';
import {MemoryShelf} from '@simulator/testing/shelf';
import type {FirmwarePlan} from './firmware-plan';
import {heldImage, identityOf, ownImage, plannedImage, releaseImage, type ImageSupply} from './planned-image';

const {supply} = new MemoryShelf();
const bramble = {board: 'Gneiss 45', part: 'base' as const};
const forMultirotor = {variant: 'multirotor' as const};
const planned = (firmware: FirmwarePlan, on: {readonly board: string; readonly part: 'base' | 'module'}) =>
  plannedImage(supply, {...firmware, ...forMultirotor}, on);

describe('the planned image', () => {
  it('is the release of family, version, board and PWM build', () => {
    expect(planned({family: 'Meridian', version: '4.2'}, bramble)?.name).toBe('Meridian 4.2');
    const cadence = {family: 'Cadence', version: '2.1', pwmKhz: 48};
    expect(planned(cadence, {...bramble, board: 'Chalk 5'})?.name).toBe('Cadence 2.1, 48 kHz');
    expect(planned({...cadence, pwmKhz: 96_000}, {...bramble, board: 'Chalk 5'})).toBeUndefined();
    expect(planned({family: 'Meridian', version: '9.9'}, bramble)).toBeUndefined();
    expect(planned({family: 'Cadence', version: '4.2'}, bramble)).toBeUndefined();
  });

  it('is never one of a helicopter variant, nor of another board', () => {
    for (const {release} of publishedReleases()) {
      const {family, version, pwmKhz, board} = release;
      const image = planned({family, version, ...(pwmKhz !== undefined && {pwmKhz})}, {board, part: 'base'});
      const chosen = supply.releases.find((r) => r.sha256 === image?.sha256);
      expect(chosen === undefined || (chosen.variant === 'multirotor' && chosen.board === board), release.id).toBe(
        true,
      );
    }
  });

  it('is the variant of the motor, main rotor or tail rotor', () => {
    const base = {family: 'Meridian', version: '4.2'};
    for (const variant of ['heli-main', 'heli-tail'] as const) {
      const {sha256} = plannedImage(supply, {...base, variant}, bramble)!;
      expect(supply.releases.find((r) => r.sha256 === sha256)?.variant).toBe(variant);
      expect(plannedImage(supply, {...base, variant}, {...bramble, board: 'Basalt 30'})).toBeUndefined();
    }
  });

  it('of a module is the module release of the same family and board', () => {
    const module = supply.releases.find((r) => r.variant === 'reply-module')!;
    const plan = {family: module.family, version: '3.9', module: module.version};
    expect(planned(plan, {board: module.board, part: 'module'})?.sha256).toBe(module.sha256);
    expect(planned({...plan, family: 'Cadence'}, {board: module.board, part: 'module'})).toBeUndefined();
    expect(planned({...plan, module: '9.9'}, {board: module.board, part: 'module'})).toBeUndefined();
  });

  it('is the file the plan names, which has no standing, and nothing else when that is gone', () => {
    const [first] = supply.releases;
    const files: ImageSupply = {...supply, files: [{name: 'mine.hex', sha256: first!.sha256}]};
    const plan = {family: 'Meridian', version: '4.2', file: first!.sha256};
    expect(plannedImage(files, {...plan, ...forMultirotor}, bramble)).toMatchObject({
      name: 'mine.hex',
      standing: undefined,
    });
    expect(planned(plan, bramble)).toBeUndefined();
    expect(ownImage({...files, imageIn: () => undefined}, first!.sha256)).toBeUndefined();
  });
});

describe('the image of before', () => {
  it('is found by version and checksum of its body, release or file', () => {
    const release = supply.releases.find((r) => r.variant === 'multirotor' && r.version === '3.9')!;
    const image = releaseImage(supply, release)!.image;
    const identity = identityOf(image, release.chip, 'base')!;
    expect(heldImage(supply, identity, 'base')?.sha256).toBe(release.sha256);
    expect(heldImage(supply, {...identity, bodyCrc32: identity.bodyCrc32 ^ 1}, 'base')).toBeUndefined();
    const backup: ImageSupply = {releases: [], files: [{name: 'backup.bin', sha256: 'x'}], imageIn: () => image};
    expect(heldImage(backup, identity, 'base')?.name).toBe('backup.bin');
    expect(heldImage(supply, undefined, 'base')).toBeUndefined();
  });
});
