/**
 * Makes everything in demo/: release images, the signed catalogue and flight logs. Run `npm run demo` after a change;
 * the same input gives the same bytes. The signing key is a demo key and stands beside this file.
 */
import {existsSync, mkdirSync, readFileSync, rmSync, writeFileSync} from 'node:fs';
import {gzipSync} from 'node:zlib';
import * as ed25519 from '@noble/ed25519';
import {sha512} from '@noble/hashes/sha2.js';
import {bytesToHex, hexToBytes, utf8ToBytes} from '@noble/hashes/utils.js';
import {writeIntelHex} from '@core/firmware/formats/intel-hex';
import {sha256Hex, type Catalogue, type Release} from '@core/firmware/releases';
import type {ControllerRelease} from '@core/firmware/controller-releases';
import {controllerBoards, publishedControllerReleases} from '@simulator/firmware/plumb';
import {boards, publishedReleases} from '@simulator/firmware/releases';
import {demoFlights} from './demo-flights';

ed25519.hashes.sha512 = sha512;
const here = new URL('../demo/', import.meta.url);
const keyFile = new URL('demo-signing-key.json', import.meta.url);
rmSync(new URL('releases/', here), {recursive: true, force: true});
mkdirSync(new URL('releases/', here), {recursive: true});

const releases = publishedReleases().map(({release, image}): Release => {
  const file = Buffer.from(writeIntelHex(image));
  writeFileSync(new URL(`releases/${release.id}.hex`, here), file);
  return {...release, sizeBytes: image.segments[0]!.bytes.length, sha256: sha256Hex(file)};
});

if (!existsSync(keyFile))
  writeFileSync(keyFile, JSON.stringify({secretKey: bytesToHex(ed25519.utils.randomSecretKey())}) + '\n');
const {secretKey} = JSON.parse(readFileSync(keyFile, 'utf8')) as {secretKey: string};
const sign = (name: string, catalogue: Catalogue) => {
  const text = JSON.stringify(catalogue, null, 1);
  const signature = bytesToHex(ed25519.sign(utf8ToBytes(text), hexToBytes(secretKey)));
  writeFileSync(new URL(`${name}.json`, here), JSON.stringify({catalogue: text, signature}) + '\n');
};
const controllers = {
  boards: [...controllerBoards],
  releases: publishedControllerReleases().map(({release, image}): ControllerRelease => {
    const file = Buffer.from(writeIntelHex(image));
    writeFileSync(new URL(`releases/${release.id}.hex`, here), file);
    return {...release, sizeBytes: image.segments[0]!.bytes.length, sha256: sha256Hex(file)};
  }),
};
sign('catalogue', {issued: '2026-11-09T08:00:00Z', boards: [...boards], releases, controllers});
// A genuine catalogue of last year, before 4.0 was withdrawn: what somebody could replay.
const older = releases.filter((r) => r.date < '2025-06-01').map((r) => ({...r, standing: 'steady' as const}));
sign('catalogue-older', {issued: '2025-06-01T08:00:00Z', boards: [...boards], releases: older});
console.log('public key', bytesToHex(ed25519.getPublicKey(hexToBytes(secretKey))));

const flights = await demoFlights();
rmSync(new URL('logs/', here), {recursive: true, force: true});
mkdirSync(new URL('logs/', here), {recursive: true});
for (const {id, csv} of flights) writeFileSync(new URL(`logs/${id}.csv.gz`, here), gzipSync(csv, {level: 9}));
console.log(`${releases.length} releases and ${flights.length} flight logs written to demo/`);
