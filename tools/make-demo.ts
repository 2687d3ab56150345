/**
 * Makes everything in demo/: release images, the signed catalogue and flight logs. Run `npm run demo` after a change;
 * the same input gives the same bytes. The signing key is a demo key and stands beside this file.
 */
import {existsSync, mkdirSync, readFileSync, writeFileSync} from 'node:fs';
import * as ed25519 from '@noble/ed25519';
import {sha512} from '@noble/hashes/sha2.js';
import {bytesToHex, hexToBytes, utf8ToBytes} from '@noble/hashes/utils.js';
import {writeIntelHex} from '@core/firmware/intel-hex';
import {sha256Hex, type Catalogue, type Release} from '@core/firmware/releases';
import type {Variant} from '@core/firmware/identity';
import {makeFlightCsv} from '@simulator/flight';
import {meridianImage, meridianReleases} from '@simulator/meridian';

ed25519.hashes.sha512 = sha512;
const here = new URL('../demo/', import.meta.url);
const keyFile = new URL('demo-signing-key.json', import.meta.url);
mkdirSync(new URL('releases/', here), {recursive: true});
mkdirSync(new URL('logs/', here), {recursive: true});

interface Target {
  readonly board: string;
  readonly deadTimeNs: number;
  readonly variant: Variant;
}
const gneiss: Target = {board: 'Gneiss 45', deadTimeNs: 45, variant: 'multirotor'};
const targets: readonly {version: string; target: Target}[] = [
  ...meridianReleases.map(({version}) => ({version, target: gneiss})),
  {version: '4.2', target: {...gneiss, variant: 'heli-main'}},
  {version: '4.2', target: {board: 'Basalt 30', deadTimeNs: 30, variant: 'multirotor'}},
];

const releases = targets.map(({version, target}): Release => {
  const {standing, date, note, features} = meridianReleases.find((r) => r.version === version)!;
  const image = meridianImage(version, target);
  const file = Buffer.from(writeIntelHex(image));
  const sha256 = sha256Hex(file);
  const id = ['meridian', version, target.board.replace(' ', '-'), target.variant].join('_').toLowerCase();
  writeFileSync(new URL(`releases/${id}.hex`, here), file);
  return {
    id,
    family: 'Meridian',
    version,
    variant: target.variant,
    board: target.board,
    chip: 'M32',
    deadTimeNs: target.deadTimeNs,
    standing,
    date,
    note,
    features: [...features],
    sizeBytes: image.segments[0]!.bytes.length,
    sha256,
  };
});

if (!existsSync(keyFile))
  writeFileSync(keyFile, JSON.stringify({secretKey: bytesToHex(ed25519.utils.randomSecretKey())}) + '\n');
const {secretKey} = JSON.parse(readFileSync(keyFile, 'utf8')) as {secretKey: string};
const text = JSON.stringify({issued: '2026-11-02T08:00:00Z', releases} satisfies Catalogue, null, 1);
const signature = bytesToHex(ed25519.sign(utf8ToBytes(text), hexToBytes(secretKey)));
writeFileSync(new URL('catalogue.json', here), JSON.stringify({catalogue: text, signature}) + '\n');
console.log('public key', bytesToHex(ed25519.getPublicKey(hexToBytes(secretKey))));

const flight = {seconds: 24, sampleRateHz: 2000};
const bank = {harmonics: [1, 2, 3], q: 5, minHz: 100};
writeFileSync(
  new URL('logs/juniper-before.csv', here),
  makeFlightCsv({
    ...flight,
    seed: 1107,
    notches: undefined,
    note: 'Juniper, flight 11, motor-speed notches off',
  }),
);
writeFileSync(
  new URL('logs/juniper-after.csv', here),
  makeFlightCsv({
    ...flight,
    seed: 1208,
    notches: bank,
    note: 'Juniper, flight 12, motor-speed notches 1x 2x 3x, Q 5, from 100 Hz',
  }),
);
console.log(`${releases.length} releases and 2 flight logs written to demo/`);
