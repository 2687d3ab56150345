/** What Arming says of switches: what each does and where, what keeps the craft from being armed now, what breaks a rule. */
import {blockWords} from '../../arming/blocks';
import {switchesOn} from '../../arming/switch-watch';
import {armingFindings} from '../../compare/rules/arming-findings';
import type {Finding} from '../../compare/rules/rule';
import {switchUseName, switchUses, type Switch, type SwitchUse} from '../../controller/arming-fields';
import type {ArmingBlock} from '../../link/operations';
import {armingConfigs, armingField, isSetAsPlanned} from './arming';
import type {Choice} from '../choice';
import type {JudgedCraft} from '../craft-question';
export type {Switch, SwitchUse};

/** What comes from transmitter and flight controller now. */
export interface SwitchesNow {
  /** Channels of the newest frame, µs; empty before the first. */
  readonly us: readonly number[];
  /** What the flight controller says; undefined while nobody told. */
  readonly isArmed: boolean | undefined;
  /** Codes of what keeps it from being armed. */
  readonly blocks: readonly string[];
}

interface SwitchLine {
  readonly index: number;
  readonly name: string;
  readonly planned: Switch;
  /** Its channel now, µs; undefined while no frame comes. */
  readonly us: number | undefined;
  readonly isOn: boolean;
}

interface SwitchesSheet {
  readonly title: string;
  readonly lines: readonly SwitchLine[];
  readonly findings: readonly Pick<Finding, 'id' | 'meaning' | 'remedy' | 'severity'>[];
  readonly armed: {readonly tag: '' | 'ok' | 'diff'; readonly word: string; readonly text: string};
  /** What keeps it from being armed now; a code of a newer controller is shown as it is. */
  readonly blocks: readonly string[];
  readonly uses: Choice<SwitchUse>[];
}

export function switchesSheet(q: JudgedCraft, {us, isArmed, blocks}: SwitchesNow): SwitchesSheet {
  const {planned} = armingField(q, 'switches');
  const on = switchesOn(planned, us);
  return {
    title: `Switches ${isSetAsPlanned(q, 'switches') ? 'as set' : 'as planned; the work order sets them'}`,
    lines: planned.map((own, index) => ({
      ...{index, planned: own, name: switchUseName[own.use], us: us[own.channel - 1]},
      isOn: on.includes(own),
    })),
    findings: armingFindings(q.craft, armingConfigs(q).found),
    armed: armedLine(isArmed),
    blocks: blocks.map((code) => blockWords[code as ArmingBlock] ?? code),
    uses: switchUses.map((use) => ({value: use, label: switchUseName[use]})),
  };
}

function armedLine(isArmed: boolean | undefined): SwitchesSheet['armed'] {
  if (isArmed === undefined) return {tag: '', word: 'not known', text: 'The flight controller is not connected.'};
  return isArmed
    ? {tag: 'diff', word: 'armed', text: 'Take the battery off.'}
    : {tag: 'ok', word: 'disarmed', text: 'It cannot be armed now:'};
}

/** What is asked while a switch is made by moving it. */
export const switchAsk = (use: SwitchUse): string =>
  `Move the switch to where ${switchUseName[use].toLowerCase()} should be on, and leave it there.`;
