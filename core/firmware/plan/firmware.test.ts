import {readFileSync} from 'node:fs';
import * as ed25519 from '@noble/ed25519';
import {hexToBytes, utf8ToBytes} from '@noble/hashes/utils.js';
import {describe, expect, it} from 'vitest';
import {meridianImage} from '@simulator/firmware/meridian';
import {defaultSettings} from '../../settings/page';
import {crc16, crc32} from '../../checksums';
import {chips, pageCount, pageWriteMs} from '../chips';
import {judgeFit} from './fit';
import {checkApplication, readIdentity, signatureOf} from '../identity';
import {flatten, type Image} from '../image';
import {readIntelHex} from '../formats/intel-hex';
import {planPages} from './page-plan';
import {checkDigest, openCatalogue, sha256Hex} from '../releases';

const gneiss = {board: 'Gneiss 45', chip: 'M32', deadTimeNs: 45};
const image = meridianImage('4.2', gneiss);
const chip = chips.M32;
const crcs = (of: Image) => {
  const flat = flatten(of, chip.application);
  return Array.from({length: pageCount(chip, chip.application)}, (_, i) =>
    crc32(flat.subarray(i * 1024, (i + 1) * 1024)),
  );
};

describe('checksums of the published catalogues', () => {
  it('CRC-32/ISO-HDLC of "123456789" is CBF43926', () =>
    expect(crc32(utf8ToBytes('123456789')).toString(16)).toBe('cbf43926'));
  it('CRC-16/IBM-3740 of "123456789" is 29B1', () => expect(crc16(utf8ToBytes('123456789')).toString(16)).toBe('29b1'));
  it('SHA-256, FIPS 180-4 examples', () => {
    expect(sha256Hex(utf8ToBytes('abc'))).toBe('ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad');
    expect(sha256Hex(utf8ToBytes('abcdbcdecdefdefgefghfghighijhijkijkljklmklmnlmnomnopnopq'))).toBe(
      '248d6a61d20638b8e5c026930c3e6039a33ce45964ff2167f6ecedd419db06c1',
    );
  });
  it.each([
    [
      'd75a980182b10ab7d54bfed3c964073a0ee172f3daa62325af021a68f707511a',
      '',
      'e5564300c360ac729086e2cc806e828a84877f1eb8e5d974d873e065224901555fb8821590a33bacc61e39701cf9b46bd25bf5f0595bbe24655141438e7a100b',
    ],
    [
      '3d4017c3e843895a92b70aa74d1b7ebc9c982ccf2ec4968cc0cd55f12af4660c',
      '72',
      '92a009a9f0d4cab8720e820b5f642540a2b27b5416503f8fb3762223ebdb69da085ac1e43e15996e458f3613d0f11d8c387b2eaeb4302aeeb00d291612bb0c00',
    ],
  ])('Ed25519, RFC 8032 §7.1, key %s', (key, message, signature) => {
    expect(ed25519.verify(hexToBytes(signature), hexToBytes(message), hexToBytes(key))).toBe(true);
    expect(ed25519.verify(hexToBytes(signature), hexToBytes(message + '00'), hexToBytes(key))).toBe(false);
  });
});

describe('identity block', () => {
  const application = flatten(image, chip.application);
  it('reads back and checks', () => {
    const check = checkApplication(application);
    expect(check.ok && check.value).toMatchObject({
      family: 'Meridian',
      version: '4.2',
      variant: 'multirotor',
      ...gneiss,
      layoutRevision: 8,
      imageLength: 41 * 1024,
    });
    expect(signatureOf(gneiss)).toBe('gneiss45/m32/45ns');
  });
  it.each([
    ['no-identity', 0],
    ['damaged-identity', 70],
    ['damaged-body', 30_000],
  ])('%s when byte %i changes', (fault, at) => {
    const bad = application.slice();
    bad[at]! ^= 1;
    expect(checkApplication(bad)).toEqual({ok: false, problem: fault});
  });
  it('an image cut short says so', () =>
    expect(checkApplication(application.subarray(0, 30_000))).toEqual({ok: false, problem: 'cut-off'}));
  it('blank flash has none', () => expect(readIdentity(new Uint8Array(96).fill(0xff)).ok).toBe(false));
});

describe('fit', () => {
  const wishes = {replies: true, protocol: 'dshot300', module: false, variant: 'multirotor'} as const;
  const settings = {layout: 8, values: defaultSettings(8)} as const;
  const ask = (over: Partial<Parameters<typeof judgeFit>[0]>) =>
    judgeFit({hardware: gneiss, image, wishes, standing: 'steady', settings, ...over});
  const refusal = (fit: ReturnType<typeof ask>) => [fit.verdict, fit.reasons.find((r) => r.verdict !== 'holds')?.text];

  it('holds for the right board, with every reason', () => {
    expect(ask({}).verdict).toBe('fits');
    expect(ask({}).reasons.map((r) => r.check)).toEqual([
      'flash',
      'board',
      'variant',
      'settings',
      'replies',
      'standing',
    ]);
  });
  it('is refused for another dead time or board', () => {
    expect(refusal(ask({hardware: {...gneiss, deadTimeNs: 30}}))).toEqual([
      'refused',
      'The image is for gneiss45/m32/45ns, this ESC is gneiss45/m32/30ns. It would burn the bridge.',
    ]);
    expect(ask({image: meridianImage('4.2', {board: 'Basalt 30', deadTimeNs: 30})}).verdict).toBe('refused');
  });
  it('is refused for the heli variants', () => {
    for (const variant of ['heli-main', 'heli-tail'] as const)
      expect(refusal(ask({image: meridianImage('4.2', {...gneiss, variant})}))[1]).toContain(`Made for ${variant}`);
  });
  it('is refused for an image that reaches the bootloader, leaves the application, or is for another chip', () => {
    const moved = (start: number): Image => ({segments: [{start, bytes: image.segments[0]!.bytes}]});
    expect(refusal(ask({image: moved(0x0f00)}))).toEqual([
      'refused',
      'The image reaches into the bootloader at 0x0000.',
    ]);
    expect(refusal(ask({image: moved(0x6000)}))[1]).toContain('the application of M32 lies from 0x1000 to 0xF7FF');
    expect(ask({hardware: {...gneiss, chip: 'K8'}}).verdict).toBe('refused');
    expect(refusal(ask({hardware: {...gneiss, chip: 'Z80'}}))).toEqual(['refused', 'Chip Z80 is not known to Bidex.']);
  });
  it('wants care without replies and for a trial build; a withdrawn one is refused', () => {
    expect(ask({image: meridianImage('3.9', gneiss)}).verdict).toBe('fits with care');
    const older = {image: meridianImage('3.9', gneiss), settings: {layout: 6, values: defaultSettings(6)}} as const;
    expect(ask({...older, wishes: {...wishes, replies: false}}).verdict).toBe('fits');
    expect(ask({standing: 'trial'}).verdict).toBe('fits with care');
    expect(ask({standing: 'withdrawn'}).verdict).toBe('refused');
  });
  it('an empty image and one without identity are refused with their reason', () => {
    expect(refusal(ask({image: {segments: []}}))[1]).toBe('The image holds no bytes.');
    expect(ask({image: {segments: [{start: 0x1000, bytes: new Uint8Array(2048)}]}}).reasons[1]!.text).toContain(
      'no identity block',
    );
  });
});

describe('page plan', () => {
  it('writes 17 pages over 3.9 and 33 over 3.7, the identity page last', () => {
    for (const [version, pages] of [
      ['3.9', 17],
      ['3.7', 33],
    ] as const) {
      const plan = planPages(chip, image, crcs(meridianImage(version, gneiss)));
      expect([plan.toWrite.length, plan.equalCount, plan.image.length]).toEqual([pages, 41 - pages, 41]);
      expect(plan.toWrite.at(-1)!.address).toBe(0x1000);
    }
  });
  it('writes nothing over the same image, and all of it over unknown flash', () => {
    expect(planPages(chip, image, crcs(image)).toWrite).toEqual([]);
    expect(planPages(chip, image, []).toWrite).toHaveLength(41);
  });
  it('rewrites the identity page when only the body differs', () => {
    const known = crcs(image);
    known[7] = 0;
    expect(planPages(chip, image, known).toWrite.map((p) => p.address)).toEqual([0x1000 + 7 * 1024, 0x1000]);
  });
  it('a full write of 41 KiB takes about 21 s of bytes on the wire (hardware.md), and the flash times on top', () => {
    expect((41 * 1024 * 10) / 19_200).toBeCloseTo(21.9, 1);
    expect((41 * pageWriteMs(chip)) / 1000).toBeLessThan(21.9 + 41 * 0.036 + 1.3);
  });
});

describe('releases', () => {
  const received = JSON.parse(readFileSync(new URL('../../../demo/catalogue.json', import.meta.url), 'utf8')) as {
    catalogue: string;
    signature: string;
  };
  it('the demo catalogue is genuine, its images have their digests and no faults', () => {
    const opened = openCatalogue(received);
    if (!opened.ok) throw new Error(opened.problem.meaning);
    expect(opened.value.releases).toHaveLength(26);
    for (const release of opened.value.releases) {
      const file = readFileSync(new URL(`../../../demo/releases/${release.id}.hex`, import.meta.url));
      expect(checkDigest(release, file).ok, release.id).toBe(true);
      expect(readIntelHex(file.toString('latin1')).faults).toEqual([]);
    }
  });
  it('one changed letter is refused with its reason', () => {
    const altered = openCatalogue({
      ...received,
      catalogue: received.catalogue.replace('withdrawn', 'steady'),
    });
    expect(!altered.ok && altered.problem).toMatchObject({
      code: 'catalogue-signature',
      meaning: 'The catalogue does not carry the signature of the release key. It was altered.',
    });
  });
  it.each([[undefined], [{}], [{catalogue: '{}', signature: 'zz'}], [{...received, signature: ''}]])(
    '%# is refused, not thrown',
    (thing) => {
      expect(openCatalogue(thing).ok).toBe(false);
    },
  );
  it('an altered image is refused', () => {
    const opened = openCatalogue(received);
    const release = opened.ok ? opened.value.releases[0]! : undefined;
    const checked = checkDigest(release!, new Uint8Array(10));
    expect(!checked.ok && checked.problem.code).toBe('image-digest');
  });
});
