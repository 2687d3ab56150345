/** The protocols between flight controller and ESC: their names, rates and bit times. */
import * as z from 'zod';

export const protocolShape = z.enum(['analog', 'dshot150', 'dshot300', 'dshot600']);
export type Protocol = z.infer<typeof protocolShape>;
export type DigitalProtocol = Exclude<Protocol, 'analog'>;
/** Those that send bits, slowest first. */
export const digitalProtocols: readonly DigitalProtocol[] = ['dshot150', 'dshot300', 'dshot600'];

/** kbit/s of a protocol; 0 for the analog pulse. */
export const protocolRate: Readonly<Record<Protocol, 0 | 150 | 300 | 600>> = {
  analog: 0,
  dshot150: 150,
  dshot300: 300,
  dshot600: 600,
};
export const protocolName: Readonly<Record<Protocol, string>> = {
  analog: 'Analog pulse',
  dshot150: 'DShot150',
  dshot300: 'DShot300',
  dshot600: 'DShot600',
};

/** Bit time in µs: 6.667, 3.333 and 1.667 (open trade protocol). */
export const bitUs = (protocol: Protocol): number => 1000 / protocolRate[protocol];
