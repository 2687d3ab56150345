/** Holds an adapter against the conformance list of docs/bench-link.md, one rule after the other. */
import {findChip} from '../firmware/chips';
import {operations, type Hello} from '../link/operations';
import type {BytePort, Clock} from '../link/port';
import {burst} from './burst';
import {cockpit} from './cockpit';
import {flash} from './flash';
import {framing} from './framing';
import {RawLink} from './raw-link';
import {reports} from './reports';
import {greeting, requests} from './requests';
import {Broken, NotTried, type Adapter, type ConformanceRule, type Need} from './rule';
import {spin} from './spin';
import {spinExtras} from './spin-extras';

/** The list, in the order in which it is tried. */
export const conformanceRules: readonly ConformanceRule[] = [
  ...framing,
  ...greeting,
  ...requests,
  ...reports,
  ...flash,
  ...spin,
  ...burst,
  ...cockpit,
  ...spinExtras,
];

export interface RuleResult {
  readonly id: string;
  readonly text: string;
  readonly result: 'kept' | 'broken' | 'not tried';
  /** What was seen instead, or what was missing to try it; empty when kept. */
  readonly detail: string;
}

export interface CheckQuestion {
  /** Opens a fresh connection. Rejects when the port cannot be opened. */
  readonly open: () => Promise<BytePort>;
  readonly clock: Clock;
  /** A person said that the propellers are off. */
  readonly propsOff: boolean;
  readonly onRule?: (result: RuleResult) => void;
}

export interface CheckReport {
  /** What it says of itself; undefined when no greeting came that reads. */
  readonly hello: Hello | undefined;
  readonly rules: readonly RuleResult[];
}

/** Tries every rule on its own connection. Rejects only when the port does not open. */
export async function checkAdapter(question: CheckQuestion): Promise<CheckReport> {
  const adapter = await meet(question);
  const rules: RuleResult[] = [];
  for (const rule of conformanceRules) {
    const result = await tryRule(rule, adapter, question);
    rules.push(result);
    question.onRule?.(result);
  }
  if (adapter?.chip) await leaveFirst(question);
  return {hello: adapter?.hello, rules};
}

async function tryRule(
  rule: ConformanceRule,
  adapter: Adapter | undefined,
  {open, clock}: CheckQuestion,
): Promise<RuleResult> {
  const {id, text} = rule;
  const lacking = missing(rule, adapter);
  if (lacking) return {id, text, result: 'not tried', detail: lacking};
  let link = new RawLink(await open(), clock);
  const again = async () => {
    await link.close();
    return (link = new RawLink(await open(), clock));
  };
  try {
    await rule.try({...(adapter ?? stranger), link, again});
    return {id, text, result: 'kept', detail: ''};
  } catch (error) {
    if (error instanceof Broken) return {id, text, result: 'broken', detail: error.message};
    if (error instanceof NotTried) return {id, text, result: 'not tried', detail: error.message};
    throw error;
  } finally {
    await link.close();
  }
}

/** What an adapter whose greeting does not read is taken for: rules that need nothing are tried on it. */
const stranger: Adapter = {
  hello: {link: 1, adapter: '', abilities: [], outputs: 1, startId: '', road: 'controller', lastHold: 0},
  chip: undefined,
  mayTurn: false,
};

/** Greets the adapter and asks the first ESC for its chip. */
async function meet({open, clock, propsOff}: CheckQuestion): Promise<Adapter | undefined> {
  const link = new RawLink(await open(), clock);
  try {
    const greeted = operations.hello.result.safeParse((await link.ask('hello', null)).value);
    if (!greeted.success) return undefined;
    const {data: hello} = greeted;
    const entered = hello.abilities.includes('esc') ? await firstEsc(link, hello) : undefined;
    return {hello, chip: entered && findChip(entered.chip), mayTurn: hello.standIn === true || propsOff};
  } finally {
    await link.close();
  }
}

/** The boot identity of the ESC on the first output, in whichever dialect it speaks. */
async function firstEsc(link: RawLink, {abilities}: Hello) {
  for (const dialect of abilities.includes('dialect') ? ['A', 'B'] : [undefined]) {
    if (dialect) await link.ask('adapter.dialect', {dialect});
    const entered = operations['esc.enter'].result.safeParse((await link.ask('esc.enter', {output: 0})).value);
    if (entered.success) return entered.data;
  }
  return undefined;
}

/** The first ESC runs its firmware again. */
async function leaveFirst({open, clock}: CheckQuestion): Promise<void> {
  const link = new RawLink(await open(), clock);
  await link.ask('esc.leave', {output: 0});
  await link.close();
}

/** What a rule needs and is not there, in words. */
function missing({needs = [], turns}: ConformanceRule, adapter: Adapter | undefined): string | undefined {
  const has = (need: Need) => {
    if (need === 'single-wire') return adapter?.hello.road === 'single-wire';
    return adapter?.hello.abilities.includes(need) === true;
  };
  const lacks = needs.find((need) => !has(need));
  if (lacks)
    return lacks === 'single-wire' ? 'It is a flight controller.' : `It does not say that it can do "${lacks}".`;
  if (needs.includes('esc') && !adapter?.chip)
    return 'No ESC that Bidex knows answers on the first output. Connect the battery.';
  return turns && !adapter?.mayTurn ? 'It turns motors: say with --props-off that the propellers are off.' : undefined;
}
