/** Stand-ins for the stores that component specs look through. */
import {computed, signal, type Signal} from '@angular/core';
import type {Hello, Power, Report} from '@core/link/operations';
import type {Problem} from '@core/problem';
import type {CraftQuestion} from '@core/sheets/craft-question';
import {gateLines, type GateLine} from '@core/spin/hold/gate';
import {benchCap} from '@core/spin/script/script-choices';
import {testSession} from '@core/testing/proof-of';
import type {BenchStore} from '../state/bench.store';
import type {StandInStore} from '../state/stand-in.store';
import type {BenchState} from '../workers/bench-control';

/** A stand-in for a store: whatever it has must be of the store's own kind. */
type FakeOf<S> = {
  readonly [K in keyof S]?: S[K] extends Signal<infer T>
    ? Signal<T>
    : S[K] extends (...args: infer A) => unknown
      ? (...args: A) => unknown
      : S[K];
};

/** A gate at which the propellers are not confirmed yet. */
const shutGate: readonly GateLine[] = gateLines({
  connected: true,
  wiresTaken: undefined,
  power: {volts: 24.1, amps: 0.3, cycles: 1},
  turning: false,
  propsOff: undefined,
  firstPower: undefined,
});

/** The parts of BenchStore that views read, as writable signals, and what they called. */
export function fakeBench() {
  const calls: string[] = [];
  const bench = {
    status: signal<'unplugged' | 'connecting' | 'connected'>('connected'),
    problem: signal<Problem | undefined>(undefined),
    problemOf: (): Problem | undefined => bench.problem(),
    evidenceOf: () => undefined,
    hello: signal<Hello | undefined>(undefined),
    power: signal<Power | undefined>({volts: 24.1, amps: 0.3, cycles: 1}),
    load: signal<number | undefined>(undefined),
    motors: signal<Report['motors']>([]),
    recentLoss: signal<readonly (number | undefined)[]>([]),
    surveying: signal<{share: number; text: string} | undefined>(undefined),
    craftId: signal<string | undefined>('juniper'),
    isConnected: signal(true),
    onAdapter: signal(false),
    readingOut: signal<number | undefined>(undefined),
    isPowered: signal(true),
    propsOff: signal(false),
    occupied: signal(false),
    turning: signal(false),
    session: signal<string | undefined>(testSession),
    moment: signal<{session: string; cycles: number | undefined} | undefined>({session: testSession, cycles: 1}),
    connect: () => calls.push('connect'),
    connectAndSurvey: () => calls.push('connect and survey'),
    survey: () => calls.push('survey'),
    gate: signal<readonly GateLine[]>(shutGate),
    runningOut: signal(false),
    cap: signal(benchCap),
    raisedCap: signal<number | undefined>(undefined),
    raiseCap: (cap: number, reason: string) => calls.push(`cap ${cap} ${reason}`),
    lowerCap: () => calls.push('lower cap'),
    confirmPropsOff: () => calls.push('props off'),
    clearProblem: () => calls.push('clear'),
    stopAll: () => calls.push('stop'),
    onReport: () => () => undefined,
  } satisfies FakeOf<InstanceType<typeof BenchStore>>;
  return {...bench, calls};
}

/** The parts of StandInStore that views read, and what they called. */
export function fakeStandIn(calls: string[] = []) {
  return {
    isPresent: signal(true),
    seen: signal<BenchState | undefined>(undefined),
    clippedTo: signal<number | undefined>(undefined),
    setBattery: (on: boolean) => calls.push(`battery ${on ? 'on' : 'off'}`),
    clip: (output: number | undefined) => calls.push(`clip ${output}`),
    look: () => Promise.resolve([]),
  } satisfies FakeOf<InstanceType<typeof StandInStore>>;
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

/** A finger on a hold button, or off it; the test environment has neither pointers nor their capture. */
export function finger(host: unknown, name: string, type: 'pointerdown' | 'pointerup'): void {
  const hold = Object.assign(button(host, name), {setPointerCapture: () => undefined});
  hold.dispatchEvent(Object.assign(new MouseEvent(type, {bubbles: true, button: 0}), {pointerId: 1}));
}

/** Sheets of one question, as the store of the application gives them. */
export const fakeQuestion = (q: CraftQuestion) => ({
  question: signal(q),
  standings: signal(q.standings),
  sheet: <T>(of: (q: CraftQuestion) => T) => computed(() => of(q)),
});
