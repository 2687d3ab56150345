/** Every operation of the bench link: shapes, how often it is sent, and how long to wait. See docs/bench-link.md. */
import * as z from 'zod';
import {settingOperations} from './setting-shapes';
import {highestThrottle, lowestThrottle} from '../dshot/command';

const bytes = z.custom<Uint8Array>((v) => v instanceof Uint8Array, 'expected bytes');
/** Outputs a bench may have. */
export const maxOutputs = 16;
/** A name or number as text, of a length that a screen can show. */
const text = z.string().max(200);
const output = z
  .number()
  .int()
  .min(0)
  .max(maxOutputs - 1);
/** Number of a hold: rises with every hold, whatever program or tab asks. */
/** Highest number that a hold may have. */
export const highestHold = 0xffffffff;
const holdNumber = z.number().int().min(1).max(highestHold);
const address = z.number().int().min(0).max(0xffffffff);
/** Longest piece of flash in one request. */
const maxBytes = 256;
/** Longest stretch of flash that one checksum covers. */
const maxChecksummed = 1 << 20;
const portion = bytes.refine((b) => b.length >= 1 && b.length <= maxBytes, `expected 1 to ${maxBytes} bytes`);
/** DShot values that command a throttle: 1 to 47 are commands to the ESC and never come over this link. */
const throttleSchema = z
  .number()
  .int()
  .refine((v) => v === 0 || (v >= lowestThrottle && v <= highestThrottle), 'expected 0 or 48 to 2047');
/** Versions of the bench link that this program speaks. */
export const spokenVersions: readonly number[] = [1];
const version = z.number().int().min(1).max(0xffff);
const none = z.null();
/** Attempts in all for an operation that may be repeated. */
const maxAttempts = 4;
const usual = {attempts: maxAttempts, timeoutMs: 800} as const;
const dialectSchema = z.enum(['A', 'B']);
export type Dialect = z.infer<typeof dialectSchema>;
/** How the bench reaches ESCs: through the flight controller, or one at a time over its signal wire. */
export const roadSchema = z.enum(['controller', 'single-wire']);
export type Road = z.infer<typeof roadSchema>;

export const powerSchema = z.object({
  volts: z.number().min(0).max(1000),
  /** Negative while braking feeds the pack. */
  amps: z.number().min(-10_000).max(10_000),
  /** How many times power came on since the adapter started. */
  cycles: z.number().int().min(0),
});
export type Power = z.infer<typeof powerSchema>;

/** One, two or three first-order sections, or one of second order with Q = 1/√2. */
const lowPassSchema = z.enum(['lowpass1', 'lowpass2', 'lowpass3', 'biquad-lowpass']);

const degrees = z.number().min(-180).max(180);
const channel = z.number().int().min(1).max(18);
const pulse = z.number().min(800).max(2200);
const receiverSchema = z.object({
  kind: z.enum(['serial', 'inverted serial', 'pulse train', 'parallel pulses']),
  port: z.number().int().min(0).max(10),
  roll: channel,
  pitch: channel,
  throttle: channel,
  yaw: channel,
  deadBandUs: z.number().min(0).max(100),
});
const switchSchema = z.object({
  use: z.enum(['arm', 'tone', 'level', 'flip']),
  channel,
  fromUs: pulse,
  toUs: pulse,
});

/**
 * A flight controller's configuration as it goes over the link: of its own, whatever the program plans. What is
 * optional is absent where the controller's firmware has no such field. Frequencies in Hz.
 */
export const wireConfigSchema = z.object({
  protocol: z.enum(['analog', 'oneshot125', 'oneshot42', 'multishot', 'dshot150', 'dshot300', 'dshot600']),
  replies: z.boolean(),
  poles: z.number().int().min(2).max(60),
  gyroHz: z.number().positive().max(1e6),
  loopHz: z.number().int().positive().max(1e6),
  /** Arm index of each output. */
  arms: z
    .array(
      z
        .number()
        .int()
        .min(0)
        .max(maxOutputs - 1),
    )
    .max(maxOutputs),
  notchHarmonics: z.array(z.number().int().min(1).max(5)).max(5).optional(),
  notchQ: z.number().min(1).max(20).optional(),
  notchMinHz: z.number().min(20).max(400).optional(),
  movingNotches: z.number().int().min(0).max(5).optional(),
  gyroLowPassHz: z.number().min(50).max(1000),
  notchWeights: z.array(z.number().int().min(0).max(100)).max(5).optional(),
  notchFadeHz: z.number().min(0).max(200).optional(),
  speedLowPassHz: z.number().min(0).max(500).optional(),
  movingQ: z.number().min(1).max(20).optional(),
  movingMinHz: z.number().min(20).max(400).optional(),
  movingMaxHz: z.number().min(100).max(2000).optional(),
  gyroLowPass: lowPassSchema.optional(),
  gyroLowPassFullHz: z.number().min(0).max(1000).optional(),
  dLowPass: lowPassSchema.optional(),
  dLowPassHz: z.number().min(20).max(1000).optional(),
  dLowPassFullHz: z.number().min(0).max(1000).optional(),
  mounting: z.object({roll: degrees, pitch: degrees, yaw: degrees}).optional(),
  accelerometer: z.boolean().optional(),
  receiver: receiverSchema.optional(),
  switches: z.array(switchSchema).max(20).optional(),
  failSafe: z.object({action: z.enum(['drop', 'hold', 'land']), afterMs: z.number().min(50).max(10_000)}).optional(),
  idlePercent: z.number().min(0).max(15),
  /** Clock that its processor runs at, MHz; 0 for the one it is rated for. */
  clockMhz: z.number().int().min(0).max(1000).optional(),
  /** Whether ESCs are told to tell more than speeds with their replies. */
  extendedReplies: z.boolean().optional(),
  /** Which way the propellers turn in front: the sense of its yaw. */
  props: z.enum(['in', 'out']).optional(),
});
export type WireConfig = z.infer<typeof wireConfigSchema>;
export const wireFields = Object.keys(wireConfigSchema.shape) as readonly (keyof WireConfig)[];

const share = z.number().min(-4).max(4);
/** What a motor does for each axis, positive is more throttle: roll to the right, nose up, nose to the right. */
export const mixerRowSchema = z.object({throttle: share, roll: share, pitch: share, yaw: share});
export type MixerRow = z.infer<typeof mixerRowSchema>;

export const controllerIdentitySchema = z.object({
  board: text,
  chip: text,
  /** Rated clock of its processor. */
  clockMhz: z.number().positive().max(10_000),
  firmware: text,
  version: text,
  /** Serial burnt into its processor; absent where the adapter does not tell it. */
  serial: text.min(1).optional(),
  /** Memory on the board that flights are logged to, bytes; absent where it has none or does not tell it. */
  logBytes: z.number().int().positive().max(0xffff_ffff).optional(),
});
export type ControllerIdentity = z.infer<typeof controllerIdentitySchema>;

export const bootIdentitySchema = z.object({
  chip: text,
  /** Serial number burnt into the chip; tells one ESC from its sibling, but for chips that were copied with it. */
  serial: text.min(1),
  bootRevision: z.number().int().min(0).max(0xffff),
  dialect: dialectSchema,
  applicationValid: z.boolean(),
});
export type BootIdentity = z.infer<typeof bootIdentitySchema>;

/** Replies that were lost, by what became of them since the controller started, and how they came. */
const lostAsSchema = z.object({
  missing: z.number().int().min(0),
  /** A group of bits that stands for nothing; a checksum that is not right. */
  code: z.number().int().min(0),
  checksum: z.number().int().min(0),
  /** Longest run of lost ones since the report before, and age of the newest good one, ms. */
  run: z.number().int().min(0),
  ageMs: z.number().min(0),
});

/** Values of extended replies: °C, V, A; stress and state as plain numbers. */
const extendedSchema = z.object({
  temperature: z.number().min(0).max(255).optional(),
  voltage: z.number().min(0).max(64).optional(),
  current: z.number().min(0).max(255).optional(),
  stress: z.number().int().min(0).max(255).optional(),
  state: z.number().int().min(0).max(255).optional(),
});
export type ExtendedValues = z.infer<typeof extendedSchema>;

/** Report sent on its own while reports are on. */
export const reportSchema = z.object({
  /** ms on the adapter's clock. */
  atMs: z.number().min(0),
  power: powerSchema,
  /** Share of the loop period the gyro task computes; above 1 it does not keep up. */
  load: z.number().min(0).max(1000),
  motors: z
    .array(
      z.object({
        /** Electrical rpm from replies; null while replies are off. */
        erpm: z.number().min(0).max(1e8).nullable(),
        /** Commanded throttle, 0…1. */
        throttle: z.number().min(0).max(1),
        /** Replies asked for and replies missing or bad since the controller started. */
        asked: z.number().int().min(0),
        lost: z.number().int().min(0),
        /** What became of the lost ones: together they are `lost`. Absent where the controller does not tell them apart. */
        lostAs: lostAsSchema.optional(),
        /** What extended replies told last; absent where none came. */
        told: extendedSchema.optional(),
      }),
    )
    .max(maxOutputs),
});
export type Report = z.infer<typeof reportSchema>;

/** An accelerometer of ±16 g. */
const accelerationG = z.number().min(-16).max(16);
const rateHz = z.number().positive().max(1e6);
const rowCount = z.number().int().min(0).max(0xffffffff);
/** Rows and bytes that one request reads at most. */
export const maxBurstRows = 64;
export const maxBurstBytes = 2048;

/** Channels that a receiver has at most, and frames that one request reads. */
const maxChannels = 18;
export const maxFrames = 16;
const frameSchema = z.object({
  /** ms on the adapter's clock, the one of reports. */
  atMs: z.number().min(0),
  /** Pulse of each channel, µs, as it came: nothing is bent or ordered. */
  us: z.array(z.number().min(0).max(4000)).max(maxChannels),
});
export type ReceiverFrame = z.infer<typeof frameSchema>;

/** What keeps a craft from being armed. */
export type ArmingBlock = 'held' | 'no-switch' | 'switch-on' | 'no-frames' | 'throttle-high' | 'tilted' | 'fail-safe';

/**
 * States in which a flight controller lets fields not be set: the battery is in; it is armed or turns motors; a transmitter is
 * connected, so that its frames come.
 */
const lockStates = ['powered', 'armed', 'connected'] as const;
export type LockState = (typeof lockStates)[number];
/** In place of the names of all fields. */
export const everyField = '*';
export const lockSchema = z.object({
  /** Names of the configuration, or {@link everyField}; one that nobody knows is passed over. */
  fields: z.array(text).max(64),
  while: z.enum(lockStates),
  /** Whether that is so now. */
  held: z.boolean(),
});
export type FieldLock = z.infer<typeof lockSchema>;

/** One task of the flight controller, measured since the last request or over a second, whichever is shorter. */
const taskSchema = z.object({
  name: text,
  /** How often it runs, and how long it took: mean and longest, µs. */
  hz: z.number().min(0).max(1e6),
  us: z.number().min(0).max(1e6),
  mostUs: z.number().min(0).max(1e6),
  /** It is a part of the gyro task, which has to end within one loop. */
  gyro: z.boolean(),
});
export type ControllerTask = z.infer<typeof taskSchema>;

/** A burst as the flight controller keeps it: see core/link/burst.ts for its rows. */
export const burstSchema = z.object({
  /** Rows per second: the loop rate over a whole number. */
  rateHz,
  /** Rows it will keep, and has kept so far. */
  rows: rowCount,
  kept: rowCount,
  rowBytes: z.number().int().min(1).max(maxBurstBytes),
  /** Rows that its memory holds, and the highest rate: its loop. */
  memoryRows: rowCount,
  mostHz: rateHz,
});
export type Burst = z.infer<typeof burstSchema>;

/** Longest block of a flight controller's firmware in one request, bytes. */
const maxBlockBytes = 1024;
/** States of a loader and what is wrong with it, named as in USB DFU 1.1, A.1.2 and 6.1.2 (from memory). */
const loaderStates = ['dfuIDLE', 'dfuDNLOAD-IDLE', 'dfuMANIFEST', 'dfuERROR'] as const;
export type LoaderState = (typeof loaderStates)[number];
const loaderFaults = ['OK', 'errTARGET', 'errWRITE', 'errADDRESS', 'errNOTDONE', 'errFIRMWARE', 'errVERIFY'] as const;
export type LoaderFault = (typeof loaderFaults)[number];

/** A flight controller's board as its loader tells it: the loader is there whatever firmware is. */
export const loaderIdentitySchema = z.object({
  board: text,
  chip: text,
  /** Bytes of its flash, and where its application lies in it. */
  flashBytes: z
    .number()
    .int()
    .positive()
    .max(1 << 24),
  start: address,
  end: address,
  /** Bytes of every block but the last, which may be shorter. */
  blockBytes: z.number().int().min(64).max(maxBlockBytes),
  revision: z.number().int().min(0).max(0xffff),
  /** Whether it would start what is there. */
  applicationValid: z.boolean(),
});
export type LoaderIdentity = z.infer<typeof loaderIdentitySchema>;
const loaderStateSchema = z.object({
  state: z.enum(loaderStates),
  fault: z.enum(loaderFaults),
  /** Number of the block that it takes next. */
  next: rowCount,
});

export const refusalSchema = z.object({code: text, text: z.string().max(1000)});

export const operations = {
  hello: {
    argument: none.or(
      z.object({
        /** Versions the sender speaks; null is version 1. */
        speaks: z.array(version).min(1).max(16),
        /** Names the connection where its cable does not: another name than before begins anew. */
        client: z.string().min(1).max(40).optional(),
      }),
    ),
    result: z.object({
      /** The version that this connection speaks from now on. */
      link: version,
      /** What the adapter can do, see {@link abilityOf}; names that nobody knows are passed over. */
      abilities: z.array(z.string().min(1).max(40)).max(64),
      /** It stands in for hardware: nothing real turns or burns. */
      standIn: z.boolean().optional(),
      adapter: text,
      outputs: z.number().int().min(1).max(maxOutputs),
      startId: text,
      road: roadSchema,
      /** Highest number of a hold the adapter has seen since its start; the next hold takes a higher one. */
      lastHold: holdNumber.or(z.literal(0)),
    }),
    ...usual,
  },
  power: {argument: none, result: powerSchema, ...usual},
  'adapter.dialect': {argument: z.object({dialect: dialectSchema}), result: none, ...usual},
  reports: {argument: z.object({on: z.boolean()}), result: none, ...usual},
  'esc.enter': {argument: z.object({output}), result: bootIdentitySchema, attempts: maxAttempts, timeoutMs: 1500},
  'esc.leave': {argument: z.object({output}), result: none, attempts: maxAttempts, timeoutMs: 1500},
  'esc.read': {
    argument: z.object({output, address, length: z.number().int().min(1).max(maxBytes)}),
    result: portion,
    attempts: maxAttempts,
    timeoutMs: 2500,
  },
  'esc.checksum': {
    argument: z.object({output, address, length: z.number().int().min(1).max(maxChecksummed)}),
    result: z.number().int().min(0).max(0xffffffff),
    attempts: maxAttempts,
    timeoutMs: 2500,
  },
  'esc.erase': {argument: z.object({output, address}), result: none, attempts: maxAttempts, timeoutMs: 2500},
  'esc.write': {
    argument: z.object({output, address, bytes: portion}),
    result: none,
    attempts: maxAttempts,
    timeoutMs: 2500,
  },
  'controller.identify': {argument: none, result: controllerIdentitySchema, ...usual},
  'controller.read': {argument: none, result: wireConfigSchema, ...usual},
  /** The named fields alone, for links that drop long transfers; a name that it does not know is passed over. */
  'controller.part': {
    argument: z.object({fields: z.array(text).min(1).max(64)}),
    result: wireConfigSchema.partial(),
    ...usual,
  },
  'controller.set': {
    argument: wireConfigSchema.partial(),
    result: none,
    ...usual,
  },
  'controller.save': {argument: none, result: none, attempts: maxAttempts, timeoutMs: 1500},
  'controller.restart': {argument: none, result: none, attempts: 1, timeoutMs: 3000},
  /** Begins to keep rows at once; a burst before it is forgotten. */
  'burst.start': {
    argument: z.object({rateHz: rateHz.min(1), rows: rowCount.min(1)}),
    result: burstSchema,
    ...usual,
  },
  'burst.state': {argument: none, result: burstSchema, ...usual},
  'burst.read': {
    argument: z.object({from: rowCount, count: rowCount.min(1).max(maxBurstRows)}),
    result: z.object({
      bytes: bytes.refine((b) => b.length <= maxBurstBytes),
      crc32: z.number().int().min(0).max(0xffffffff),
    }),
    attempts: maxAttempts,
    timeoutMs: 1500,
  },
  /** Ends the firmware and starts the loader; answered by the loader. Motors stop. */
  'loader.enter': {argument: none, result: none, attempts: maxAttempts, timeoutMs: 3000},
  'loader.identify': {argument: none, result: loaderIdentitySchema, ...usual},
  'loader.state': {argument: none, result: loaderStateSchema, ...usual},
  /** Erases and writes one block. Block 0 begins anew; each other follows the one before, else the loader is in error. */
  'loader.download': {
    argument: z.object({
      block: rowCount,
      bytes: bytes.refine((b) => b.length >= 1 && b.length <= maxBlockBytes, `expected 1 to ${maxBlockBytes} bytes`),
    }),
    result: loaderStateSchema,
    attempts: maxAttempts,
    timeoutMs: 2500,
  },
  /** CRC-32 of a range of the application. */
  'loader.checksum': {
    argument: z.object({address, length: z.number().int().min(1).max(maxChecksummed)}),
    result: z.number().int().min(0).max(0xffffffff),
    attempts: maxAttempts,
    timeoutMs: 2500,
  },
  /** Out of the error state. */
  'loader.clear': {argument: none, result: loaderStateSchema, ...usual},
  /** Checks what was written and starts it; answered by the firmware. Refused where it does not check. */
  'loader.leave': {argument: none, result: none, attempts: maxAttempts, timeoutMs: 3000},
  /** What the accelerometer measures at rest or moved: g, in the board's own axes forward, right, down. */
  'attitude.read': {
    argument: none,
    result: z.object({atMs: z.number().min(0), g: z.tuple([accelerationG, accelerationG, accelerationG])}),
    ...usual,
  },
  /** Frames of the receiver from number `since` on, the oldest first; `from` is the number of the first one answered. */
  'receiver.frames': {
    argument: z.object({since: rowCount, most: z.number().int().min(1).max(maxFrames)}),
    result: z.object({
      from: rowCount,
      frames: z.array(frameSchema).max(maxFrames),
      /** When this was answered, on the same clock. */
      nowMs: z.number().min(0),
    }),
    ...usual,
  },
  /** Whether the craft is armed, and everything that keeps it from being so: codes that nobody knows are passed over. */
  'arming.state': {
    argument: none,
    result: z.object({armed: z.boolean(), blocks: z.array(text).max(32)}),
    ...usual,
  },
  /** Fields that cannot be set in some state, and whether it is in that state. */
  'locks.read': {argument: none, result: z.array(lockSchema).max(16), ...usual},
  /** Where the time of its processor goes. */
  'tasks.read': {argument: none, result: z.array(taskSchema).max(64), ...usual},
  /** Mixer that it runs on, one row per output; none where it knows none for its outputs. */
  'mixer.read': {argument: none, result: z.array(mixerRowSchema).max(maxOutputs), ...usual},
  /**
   * Sends the lowest or highest analog pulse to every output, battery on or off, until another level is asked for or the
   * lease runs out; then the lowest.
   */
  'ends.send': {
    argument: z.object({level: z.enum(['lowest', 'highest']), leaseMs: z.number().min(1).max(3000)}),
    result: none,
    ...usual,
  },
  /** Lets a motor that stands sound; the time it takes, ms. */
  'tone.sound': {
    argument: z.object({output, kind: z.enum(['usual', 'lost-craft'])}),
    result: z.number().min(0).max(60_000),
    attempts: 1,
    timeoutMs: 800,
  },
  ...settingOperations,
  /** A renewal that got lost is out of date: the next one follows, so it is never sent again. */
  spin: {
    argument: z.object({
      hold: holdNumber,
      /** The sender's clock when it was sent, ms: one that comes late is not taken. */
      sentMs: z.number().min(0),
      leaseMs: z.number().min(1).max(500),
      /** The receiver's fail-safe acts on these motors: once it has, renewals are refused with "fail-safe". */
      heeds: z.literal('receiver').optional(),
      commands: z.array(z.object({output, value: throttleSchema})).max(maxOutputs),
    }),
    result: none,
    attempts: 1,
    timeoutMs: 200,
  },
  /** Ends this hold and every one before it. Sent until it is answered or the link has ended. */
  'spin.stop': {
    argument: z.object({hold: holdNumber.or(z.literal(0))}),
    result: none,
    attempts: Infinity,
    timeoutMs: 100,
  },
} as const;

export type Operation = keyof typeof operations;
export type Argument<O extends Operation> = z.infer<(typeof operations)[O]['argument']>;
export type Answer<O extends Operation> = z.infer<(typeof operations)[O]['result']>;
export type Hello = Answer<'hello'>;

/** What an adapter may be able to do: the name it has in `hello`. `hello` and `power` every adapter can. */
export const abilities = [
  'esc',
  'dialect',
  'controller',
  'spin',
  'reports',
  'burst',
  'attitude',
  'receiver',
  'arming',
  'locks',
  'tasks',
  'mixer',
  'ends',
  'tone',
  'loader',
  'settings',
] as const;
export type Ability = (typeof abilities)[number];
export const abilityOf = (operation: Operation): Ability | undefined => {
  if (operation === 'adapter.dialect') return 'dialect';
  if (operation === 'hello' || operation === 'power') return undefined;
  return operation.split('.')[0] as Ability;
};
