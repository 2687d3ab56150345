/** Holds an adapter against the conformance list of docs/bench-link.md, one rule after the other. */
import {findChip} from '../firmware/chips';
import {operations, type Hello} from '../link/operations';
import {sleep, type BytePort, type Clock} from '../link/port';
import {burst} from './burst';
import {cockpit} from './cockpit';
import {flash} from './flash';
import {lasting} from './lasting';
import {network} from './network';
import {framing} from './framing';
import {RawLink} from './raw-link';
import {reports} from './reports';
import {greeting, requests} from './requests';
import {Broken, NotTried, type Adapter, type ConformanceRule, type FirmwareFor, type Need} from './adapter-rule';
import {settings} from './settings';
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
  ...settings,
  ...lasting,
  ...network,
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
  /** A person said that the ESC on the first output may be lost. */
  readonly spareEsc?: boolean;
  /** The connections go over a network. */
  readonly overNetwork?: boolean;
  readonly firmwareFor?: FirmwareFor | undefined;
  /** Names of the rules to try; all where it is undefined. */
  readonly only?: readonly string[] | undefined;
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
  for (const rule of conformanceRules.filter(({id}) => question.only?.includes(id) ?? true)) {
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
  {open, clock, overNetwork}: CheckQuestion,
): Promise<RuleResult> {
  const {id, text} = rule;
  const fresh = async () => {
    // The adapter learns of the end of the connection before.
    await sleep(clock, settleMs);
    return new RawLink(await open(), clock);
  };
  const lacking = missing(rule, adapter);
  if (lacking) return {id, text, result: 'not tried', detail: lacking};
  // On a network the end of a connection is told; a line that stays in tells the adapter nothing.
  const greeted = async () => {
    const opened = await fresh();
    if (!overNetwork) await opened.greet();
    return opened;
  };
  let link = await greeted();
  const again = async () => {
    await link.close();
    return (link = await greeted());
  };
  try {
    await rule.try({...(adapter ?? stranger), link, again, second: fresh});
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
  mayLoseEsc: false,
  overNetwork: false,
};

/** Between the end of a connection and the next one, ms. */
const settleMs = 50;

/** Greets the adapter and asks the first ESC for its chip. */
async function meet({
  open,
  clock,
  propsOff,
  spareEsc,
  overNetwork = false,
  firmwareFor,
}: CheckQuestion): Promise<Adapter | undefined> {
  const link = new RawLink(await open(), clock);
  try {
    await link.greet();
    const greeted = operations.hello.result.safeParse((await link.ask('hello', null)).value);
    if (!greeted.success) return undefined;
    const {data: hello} = greeted;
    const entered = hello.abilities.includes('esc') ? await firstEsc(link, hello) : undefined;
    const [isStandIn, chip] = [hello.standIn === true, entered && findChip(entered.chip)];
    const allowed = {mayTurn: isStandIn || propsOff, mayLoseEsc: isStandIn || spareEsc === true};
    return {hello, chip, ...allowed, overNetwork, firmwareFor};
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

/** Needs beside the abilities that an adapter names: whether they are there, and what to say where they are not. */
const conditions = {
  'single-wire': [({hello}: Adapter) => hello.road === 'single-wire', 'It is a flight controller.'],
  network: [({overNetwork}: Adapter) => overNetwork, 'It is not reached over a network.'],
  'spare-esc': [
    ({mayLoseEsc}: Adapter) => mayLoseEsc,
    'An adapter that breaks this rule loses the ESC by it: say with --spare-esc that the one on the first output may be lost.',
  ],
} as const;

/** What a rule needs and is not there, in words. */
function missing({needs = [], turns}: ConformanceRule, adapter: Adapter | undefined): string | undefined {
  for (const need of needs) {
    const lacks = lacking(need, adapter);
    if (lacks) return lacks;
  }
  if (needs.includes('esc') && !adapter?.chip)
    return 'No ESC that Bidex knows answers on the first output. Connect the battery.';
  return turns && !adapter?.mayTurn ? 'It turns motors: say with --props-off that the propellers are off.' : undefined;
}

function lacking(need: Need, adapter: Adapter | undefined): string | undefined {
  if (need === 'single-wire' || need === 'network' || need === 'spare-esc') {
    const [isMet, otherwise] = conditions[need];
    return adapter && isMet(adapter) ? undefined : otherwise;
  }
  return adapter?.hello.abilities.includes(need) ? undefined : `It does not say that it can do "${need}".`;
}
