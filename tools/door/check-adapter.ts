/** An adapter held against the rules of the bench link: `bidex check-adapter`. One line per rule, or one JSON answer. */
import {checkAdapter, conformanceRules, type CheckReport, type RuleResult} from '@core/conformance/check-adapter';
import {clockOf} from '@core/link/clock';
import {fail, outcome, type Outcome, type Run} from './command';
import {firmwareFrom} from './controller-image';
import {openSerialPort} from './serial-port';
import {hostAndPort, openTcpPort} from './tcp-port';

export const run: Run = async ({options}) => {
  const adapter = adapterAt(options);
  const only = options.get('--only')?.split(',');
  const unknown = only?.find((id) => !conformanceRules.some((rule) => rule.id === id));
  if (unknown !== undefined)
    return outcome(fail('usage', `No rule is called "${unknown}". docs/bench-link.md lists them.`));
  const isJson = options.has('--json');
  try {
    const onRule = (rule: RuleResult) => void (isJson || console.log(ruleLine(rule)));
    const allowed = {propsOff: options.has('--props-off'), spareEsc: options.has('--spare-esc')};
    const firmwareFor = firmwareFrom(options.get('--controller-image'));
    const clock = clockOf(globalThis);
    const report = await checkAdapter({...adapter, clock, ...allowed, firmwareFor, only, onRule});
    return checkOutcome(report, isJson);
  } catch (error) {
    return outcome(fail('connect', `${adapter.name} does not answer: ${(error as Error).message}`));
  }
};

/** The adapter that is asked for: on a serial device, or on the network. @throws UsageError */
function adapterAt(options: ReadonlyMap<string, string>) {
  const path = options.get('--serial');
  if (path !== undefined) return {name: path, open: () => openSerialPort(path), overNetwork: false};
  const address = options.get('--connect') ?? '';
  const {host, port} = hostAndPort(address);
  return {name: address, open: () => openTcpPort(host, port), overNetwork: true};
}

const marks = {kept: '✓', broken: '✗', 'not tried': '–'} as const;
const ruleLine = ({id, text, result, detail}: RuleResult) =>
  `${marks[result]} ${id.padEnd(18)} ${text}${detail ? `\n  ${''.padEnd(18)} ${result}: ${detail}` : ''}`;

function checkOutcome({hello, rules}: CheckReport, isJson: boolean): Outcome {
  const count = (result: RuleResult['result']) => rules.filter((r) => r.result === result).length;
  const [kept, broken, notTried] = [count('kept'), count('broken'), count('not tried')];
  const exitCode = broken ? 1 : 0;
  if (!isJson) return {output: `${kept} rules kept, ${broken} broken, ${notTried} not tried.`, exitCode};
  const {adapter = null, road = null} = hello ?? {};
  return {output: {adapter, road, kept, broken, notTried, rules}, exitCode};
}
