/** Stand-ins for the stores that component specs look through. */
import {signal} from '@angular/core';
import type {Power, Report} from '@core/link/operations';
import type {Problem} from '@core/problem';
import {testSession} from '@core/testing/proof-of';

/** The parts of BenchStore that views read, as writable signals, and what they called. */
export function fakeBench() {
  const calls: string[] = [];
  const simulator = {setBattery: (on: boolean) => void calls.push(`battery ${on ? 'on' : 'off'}`)};
  return {
    calls,
    status: signal<'unplugged' | 'connecting' | 'connected'>('connected'),
    problem: signal<Problem | undefined>(undefined),
    power: signal<Power | undefined>({volts: 24.1, amps: 0.3, cycles: 1}),
    motors: signal<Report['motors']>([]),
    surveying: signal<{share: number; text: string} | undefined>(undefined),
    craftId: signal<string | undefined>('juniper'),
    isConnected: signal(true),
    onAdapter: signal(false),
    simulated: signal<{clippedTo: number | undefined} | undefined>(undefined),
    readingOut: signal<number | undefined>(undefined),
    isPowered: signal(true),
    propsOff: signal(false),
    occupied: signal(false),
    turning: signal(false),
    session: signal<string | undefined>(testSession),
    moment: signal<{session: string; cycles: number | undefined} | undefined>({session: testSession, cycles: 1}),
    simulator: () => simulator,
    connect: () => calls.push('connect'),
    connectAndSurvey: () => calls.push('connect and survey'),
    survey: () => calls.push('survey'),
    confirmPropsOff: () => calls.push('props off'),
    clearProblem: () => calls.push('clear'),
    stopAll: () => calls.push('stop'),
  };
}

/** What a person reads in an element, white space folded. */
export const textOf = (host: unknown): string => ((host as HTMLElement).textContent ?? '').replace(/\s+/g, ' ').trim();

export const buttons = (host: unknown): HTMLButtonElement[] => [...(host as HTMLElement).querySelectorAll('button')];

/** The button whose text begins with `name`. Fails when there is none. */
export function button(host: unknown, name: string): HTMLButtonElement {
  const found = buttons(host).find((b) => textOf(b).startsWith(name));
  if (!found) throw new Error(`No button "${name}" among: ${buttons(host).map(textOf).join(' | ')}`);
  return found;
}
