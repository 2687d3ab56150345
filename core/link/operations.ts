/** Every operation of the bench link: shapes, whether it may be repeated, and how long to wait. See docs/bench-link.md. */
import * as z from 'zod';
import {controllerPlanShape} from '../craft/craft';

const bytes = z.custom<Uint8Array>((v) => v instanceof Uint8Array, 'expected bytes');
const output = z.number().int().min(0).max(15);
const address = z.number().int().min(0).max(0xffffffff);
const none = z.null();
export const dialectShape = z.enum(['A', 'B']);
export type Dialect = z.infer<typeof dialectShape>;
/** How the bench reaches ESCs: through the flight controller, or one at a time over its signal wire. */
export const roadShape = z.enum(['controller', 'single-wire']);
export type Road = z.infer<typeof roadShape>;

export const powerShape = z.object({
  volts: z.number(),
  amps: z.number(),
  /** How many times power came on since the adapter started. */
  cycles: z.number().int(),
});
export type Power = z.infer<typeof powerShape>;

export const controllerConfigShape = controllerPlanShape.extend({gyroHz: z.number()});
export type ControllerConfig = z.infer<typeof controllerConfigShape>;

export const controllerIdentityShape = z.object({
  board: z.string(),
  chip: z.string(),
  clockMhz: z.number(),
  firmware: z.string(),
  version: z.string(),
});
export type ControllerIdentity = z.infer<typeof controllerIdentityShape>;

export const bootIdentityShape = z.object({
  chip: z.string(),
  /** Serial number burnt into the chip; tells one ESC from its sibling for ever. */
  serial: z.string(),
  bootRevision: z.number().int(),
  dialect: dialectShape,
  applicationValid: z.boolean(),
});
export type BootIdentity = z.infer<typeof bootIdentityShape>;

/** Report sent on its own while reports are on. */
export const reportShape = z.object({
  /** ms on the adapter's clock. */
  atMs: z.number(),
  power: powerShape,
  /** Share of the loop period the gyro task computes, 0…1. */
  load: z.number(),
  motors: z.array(
    z.object({
      /** Electrical rpm from replies; null while replies are off. */
      erpm: z.number().nullable(),
      /** Commanded throttle, 0…1. */
      throttle: z.number(),
      /** Replies asked for and replies missing or bad since the controller started. */
      asked: z.number().int(),
      lost: z.number().int(),
    }),
  ),
});
export type Report = z.infer<typeof reportShape>;

export const refusalShape = z.object({code: z.string(), text: z.string()});

export const operations = {
  hello: {
    argument: none,
    result: z.object({
      link: z.literal(1),
      adapter: z.string(),
      outputs: z.number().int(),
      startId: z.string(),
      road: roadShape,
    }),
    repeatable: true,
    timeoutMs: 800,
  },
  power: {argument: none, result: powerShape, repeatable: true, timeoutMs: 800},
  'adapter.dialect': {argument: z.object({dialect: dialectShape}), result: none, repeatable: true, timeoutMs: 800},
  reports: {argument: z.object({on: z.boolean()}), result: none, repeatable: true, timeoutMs: 800},
  'esc.enter': {argument: z.object({output}), result: bootIdentityShape, repeatable: true, timeoutMs: 1500},
  'esc.leave': {argument: z.object({output}), result: none, repeatable: true, timeoutMs: 1500},
  'esc.read': {
    argument: z.object({output, address, length: z.number().int().min(1).max(256)}),
    result: bytes,
    repeatable: true,
    timeoutMs: 2500,
  },
  'esc.checksum': {
    argument: z.object({output, address, length: z.number().int().min(1)}),
    result: z.number().int(),
    repeatable: true,
    timeoutMs: 2500,
  },
  'esc.erase': {argument: z.object({output, address}), result: none, repeatable: true, timeoutMs: 2500},
  'esc.write': {
    argument: z.object({output, address, bytes}),
    result: none,
    repeatable: true,
    timeoutMs: 2500,
  },
  'controller.identify': {argument: none, result: controllerIdentityShape, repeatable: true, timeoutMs: 800},
  'controller.read': {argument: none, result: controllerConfigShape, repeatable: true, timeoutMs: 800},
  'controller.set': {
    argument: controllerConfigShape.partial(),
    result: none,
    repeatable: true,
    timeoutMs: 800,
  },
  'controller.save': {argument: none, result: none, repeatable: true, timeoutMs: 1500},
  'controller.restart': {argument: none, result: none, repeatable: false, timeoutMs: 3000},
  spin: {
    argument: z.object({
      leaseMs: z.number().min(0).max(500),
      commands: z.array(z.object({output, value: z.number().int().min(0).max(2047)})),
    }),
    result: none,
    repeatable: true,
    timeoutMs: 800,
  },
} as const;

export type Operation = keyof typeof operations;
export type Argument<O extends Operation> = z.infer<(typeof operations)[O]['argument']>;
export type Answer<O extends Operation> = z.infer<(typeof operations)[O]['result']>;
