/** The protocols between flight controller and ESC: their names, rates, bit times and lengths of pulses. */
import * as z from 'zod';

/** Those that say the throttle by the length of a pulse, longest first. */
export const pulseProtocols = ['analog', 'oneshot125', 'oneshot42', 'multishot'] as const;
export type PulseProtocol = (typeof pulseProtocols)[number];
/** Those that send bits, slowest first. */
export const digitalProtocols = ['dshot150', 'dshot300', 'dshot600'] as const;
export type DigitalProtocol = (typeof digitalProtocols)[number];

export const protocolSchema = z.enum([...pulseProtocols, ...digitalProtocols]);
export type Protocol = z.infer<typeof protocolSchema>;
export const isDigital = (protocol: Protocol): protocol is DigitalProtocol => protocolRate[protocol] > 0;

/** kbit/s of a protocol; 0 for pulses. */
export const protocolRate: Readonly<Record<Protocol, 0 | 150 | 300 | 600>> = {
  analog: 0,
  oneshot125: 0,
  oneshot42: 0,
  multishot: 0,
  dshot150: 150,
  dshot300: 300,
  dshot600: 600,
};
export const protocolName: Readonly<Record<Protocol, string>> = {
  analog: 'Analog pulse',
  oneshot125: 'Oneshot125',
  oneshot42: 'Oneshot42',
  multishot: 'Multishot',
  dshot150: 'DShot150',
  dshot300: 'DShot300',
  dshot600: 'DShot600',
};

/** Pulse of no and of full throttle, µs (trade terms: 1000 to 2000, its eighth, its 24th, 5 to 25). */
export const pulseSpanUs: Readonly<Record<PulseProtocol, readonly [number, number]>> = {
  analog: [1000, 2000],
  oneshot125: [125, 250],
  oneshot42: [1000 / 24, 2000 / 24],
  multishot: [5, 25],
};

/** Bit time in µs: 6.667, 3.333 and 1.667 (open trade protocol). */
export const bitUs = (protocol: DigitalProtocol): number => 1000 / protocolRate[protocol];
