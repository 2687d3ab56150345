/** Tones that motors make while they stand: which ESC can sound now, and for how long. */
import {isDigital} from '@core/dshot/protocol';
import type {Argument} from '@core/link/operations';
import type {Controller} from '../controller/controller';
import type {Esc} from './esc';
import type {PowerTrain} from './power-train';

/** Length of a tone, ms. */
export const toneMs = {usual: 320, 'lost-craft': 1200} as const;

interface Sounding {
  readonly escs: readonly Esc[];
  readonly on: boolean;
  readonly controller: Controller;
  readonly train: PowerTrain;
}

/** Code and text of why a motor cannot sound; undefined where it does. */
export function whySilent(
  {output}: Argument<'tone.sound'>,
  {escs, on, controller, train}: Sounding,
): [string, string] | undefined {
  const name = `Motor ${output + 1}`;
  const esc = escs[output];
  if (!esc) return ['no-output', `There is no output ${output + 1}.`];
  if (!on || esc.burnt) return ['no-power', `${name} is silent: its ESC has no power.`];
  if (!isDigital(controller.running.protocol))
    return ['not-digital', 'Pulses carry no commands: a tone cannot be asked for.'];
  if (esc.state !== 'running') return ['no-answer', `${name} is silent: its ESC stands in its bootloader.`];
  return train.isActive ? ['turning', 'A motor turns: tones are for motors that stand.'] : undefined;
}
