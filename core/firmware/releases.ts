/** The signed catalogue of releases: its shape, its signature (Ed25519, RFC 8032) and image digests (SHA-256). */
import * as ed25519 from '@noble/ed25519';
import {sha256, sha512} from '@noble/hashes/sha2.js';
import {bytesToHex, hexToBytes, utf8ToBytes} from '@noble/hashes/utils.js';
import * as z from 'zod';
import {pulseProtocols} from '../dshot/protocol';
import {failure, success, type Problem, type Result} from '../problem';
import {controllerBoardSchema, controllerReleaseSchema, lightsSchema} from './controller-releases';

ed25519.hashes.sha512 = sha512;

/** Who a board is, for a person who has to find it: an ESC with foreign or no firmware cannot say it. */
const boardSchema = z.object({
  name: z.string(),
  chip: z.string(),
  deadTimeNs: z.number().int(),
  /** What it looks like, in words. */
  kind: z.string(),
  /** Text printed on it. */
  silkscreen: z.string(),
  amps: z.number().positive(),
  cells: z.string(),
  features: z.array(z.string()),
  /** What its lights say. */
  lights: lightsSchema.optional(),
  /** What its maker leaves ESC parameters at, by their key; those that are not named stay at the firmware's default. */
  defaults: z.record(z.string(), z.number()).optional(),
});
export type Board = z.infer<typeof boardSchema>;

const tonesSchema = z
  .array(z.object({hz: z.number().min(20).max(20_000), ms: z.number().int().min(10).max(5000)}))
  .max(20);

const releaseSchema = z.object({
  id: z.string(),
  family: z.string(),
  version: z.string(),
  variant: z.string(),
  board: z.string(),
  chip: z.string(),
  deadTimeNs: z.number().int(),
  standing: z.enum(['steady', 'trial', 'withdrawn']),
  date: z.iso.date(),
  note: z.string(),
  features: z.array(z.string()),
  /** Pulses that it takes beside DShot; undefined where the catalogue does not say. */
  pulses: z.array(z.enum(pulseProtocols)).optional(),
  /** What it sounds after power-up: that it runs, then that it receives the throttle signal. */
  tones: z.object({power: tonesSchema, signal: tonesSchema}).optional(),
  /** How it is set by the throttle stick and its tones, without a computer: what a hand does, and what is heard then. */
  byStick: z
    .array(z.object({hand: z.string(), heard: z.string()}))
    .max(20)
    .optional(),
  /** PWM frequency built in, kHz. */
  pwmKhz: z.number().int().positive().optional(),
  /** Versions of the base a reply module works with. */
  base: z.object({lowest: z.string(), highest: z.string()}).optional(),
  /** Lowest bootloader revision that can write it. */
  bootRevision: z.number().int(),
  /** Flight-controller firmware its replies need, "Plumb 2.2". */
  needsController: z.string().optional(),
  sizeBytes: z.number().int().positive(),
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
});
export type Release = z.infer<typeof releaseSchema>;

export const catalogueSchema = z.object({
  issued: z.iso.datetime(),
  boards: z.array(boardSchema),
  releases: z.array(releaseSchema),
  /** Flight controllers, in catalogues of today. */
  controllers: z
    .object({boards: z.array(controllerBoardSchema), releases: z.array(controllerReleaseSchema)})
    .optional(),
});
export type Catalogue = z.infer<typeof catalogueSchema>;

/** What the release service sends: the catalogue's exact text and the signature over its UTF-8 bytes. */
export const signedCatalogueSchema = z.object({catalogue: z.string(), signature: z.string()});

/** Public half of the key that signs releases. The demo's private half stands in tools/demo-signing-key.json. */
const releasePublicKey = '6b3c4cd6691b4675ac47d91fb932ca2f9ad528c3cd9a4405107a77e12a0def9d';

export const sha256Hex = (bytes: Uint8Array): string => bytesToHex(sha256(bytes));

/** The release that an ESC runs or will run, by what its identity says; undefined where the catalogue does not have it. */
export const releaseOf = (
  releases: readonly Release[],
  {family, version, variant, board}: Pick<Release, 'family' | 'version' | 'variant' | 'board'>,
): Release | undefined =>
  releases.find((r) => r.family === family && r.version === version && r.variant === variant && r.board === board);

/** What a release is called, without its family. */
export const releaseTitle = ({version, pwmKhz, variant}: Pick<Release, 'version' | 'pwmKhz' | 'variant'>): string =>
  [variant === 'reply-module' ? `reply module ${version}` : version, pwmKhz && `${pwmKhz} kHz`]
    .filter(Boolean)
    .join(', ');

/** What a release is called: "Meridian 4.2", "Cadence 2.1, 48 kHz", "reply module 1.1". */
export const releaseName = (r: Pick<Release, 'family' | 'version' | 'pwmKhz' | 'variant'>): string =>
  r.variant === 'reply-module' ? releaseTitle(r) : `${r.family} ${releaseTitle(r)}`;

interface OpenOptions {
  /** When the catalogue at hand was issued: an older one is refused. */
  readonly keptIssued?: string | undefined;
  readonly publicKey?: string;
}

/** Checks signature, shape and age of a catalogue as it came from the service. */
export function openCatalogue(received: unknown, options: OpenOptions = {}): Result<Catalogue> {
  const {keptIssued, publicKey = releasePublicKey} = options;
  const envelope = signedCatalogueSchema.safeParse(received);
  if (!envelope.success)
    return refuse('catalogue-shape', 'The release service sent something that is not a signed catalogue.');
  const {catalogue, signature} = envelope.data;
  let genuine: boolean;
  try {
    genuine = ed25519.verify(hexToBytes(signature), utf8ToBytes(catalogue), hexToBytes(publicKey));
  } catch {
    // The signature is no hexadecimal text or no point on the curve: not genuine either.
    genuine = false;
  }
  if (!genuine)
    return refuse(
      'catalogue-signature',
      'The catalogue does not carry the signature of the release key. It was altered.',
    );
  const parsed = catalogueSchema.safeParse(JSON.parse(catalogue));
  if (!parsed.success)
    return refuse(
      'catalogue-shape',
      `The catalogue is signed but not understood: ${parsed.error.issues[0]?.message ?? ''}`,
    );
  const {issued} = parsed.data;
  if (keptIssued !== undefined && Date.parse(issued) < Date.parse(keptIssued))
    return refuse(
      'catalogue-older',
      `It sent a catalogue of ${day(issued)}, older than the one kept here of ${day(keptIssued)}. ` +
        'An old catalogue may call a withdrawn release steady.',
    );
  return success(parsed.data);
}

/** Checks an image file against the digest in its release. */
export function checkDigest(
  release: Pick<Release, 'family' | 'version' | 'sha256'>,
  file: Uint8Array,
): Result<Uint8Array> {
  const digest = sha256Hex(file);
  if (digest === release.sha256) return success(file);
  return failure({
    code: 'image-digest',
    place: `${release.family} ${release.version}`,
    meaning: `The image has SHA-256 ${digest.slice(0, 12)}…, the catalogue says ${release.sha256.slice(0, 12)}…. It was altered or cut.`,
    remedy: 'Fetch it again. If it fails again, do not use this release.',
  });
}

const day = (issued: string) => issued.slice(0, 10);

function refuse(code: string, meaning: string): {ok: false; problem: Problem} {
  return failure({
    code,
    place: 'release service',
    meaning,
    remedy: 'Nothing from it was taken over. Check the address of the service and try again.',
  });
}
