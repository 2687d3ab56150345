/** The ESC that a command on a wire reaches, or why nobody answers there. */
import {compareVersions} from '@core/firmware/identity';
import type {Dialect, Road} from '@core/link/operations';
import type {Controller} from '../controller/controller';
import type {Esc} from './esc';
import type {Refused} from './esc-commands';
import type {PowerTrain} from './power-train';

/** Flight-controller firmware from which ESCs can be reached through it. */
const passesThroughFrom = '2.2';

interface AskedWire {
  readonly output: number;
  readonly road: Road;
  /** Where the adapter is clipped, and the dialect it speaks. */
  readonly clippedTo: number | undefined;
  readonly dialect: Dialect;
}

interface Bench {
  readonly escs: readonly Esc[];
  readonly controller: Controller;
  readonly train: PowerTrain;
  readonly on: boolean;
}

interface Wired {
  readonly esc: Esc;
  readonly output: number;
  /** How texts call it. */
  readonly name: string;
}

const refused = (code: string, text: string): Refused => ({code, text});

export function escOnWire(asked: AskedWire, {escs, controller: {identity}, train, on}: Bench): Wired | Refused {
  const onAdapter = asked.road === 'single-wire';
  const output = onAdapter ? asked.clippedTo : asked.output;
  if (onAdapter && asked.output !== 0) return refused('no-output', 'A single-wire adapter has one wire, output 1.');
  const silentWire = 'The wire is silent: the adapter is not clipped to an ESC, or that ESC has no power.';
  if (output === undefined) return refused('no-power', silentWire);
  const esc = escs[output];
  const name = onAdapter ? 'The ESC on the adapter' : `Motor ${output + 1}`;
  if (!esc) return refused('no-output', `There is no output ${output + 1}.`);
  if (!onAdapter && compareVersions(identity.version, passesThroughFrom) < 0)
    return refused(
      'no-pass-through',
      `The flight controller runs ${identity.firmware} ${identity.version}, which cannot pass through to ESCs; ` +
        `${identity.firmware} ${passesThroughFrom} can.`,
    );
  if (!on || esc.burnt) return refused('no-power', onAdapter ? silentWire : `${name} is silent: its ESC has no power.`);
  if (train.outputs[output]!.throttle > 0) return refused('turning', `${name} is turning.`);
  const {hasBootloader, dialect} = esc.hardware;
  if (!esc.silent && hasBootloader !== false && (!onAdapter || dialect === asked.dialect)) return {esc, output, name};
  const spoken = onAdapter ? `dialect ${asked.dialect}` : 'dialect A or B';
  return refused('no-answer', `${name} has power, but no bootloader answers in ${spoken}.`);
}
