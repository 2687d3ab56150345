/** What is asked around turning motors: accelerometer and receiver, mixer, locks, tasks, ends of analog throttle, tones. */
import {isDigital} from '@core/dshot/protocol';
import type {Argument, Operation} from '@core/link/operations';
import type {Random} from '../../random';
import {isOfCockpit, type Cockpit, type CockpitCall} from '../hands/cockpit';
import type {Controller} from '../controller/controller';
import type {EndPoints} from '../hands/end-points';
import type {Esc} from '../esc/esc';
import {locksNow} from '../controller/locks';
import type {PowerTrain} from '../esc/power-train';
import {tasksNow} from '../controller/tasks';
import {toneMs, whySilent} from '../esc/tones';

type OwnOperation = 'locks.read' | 'tasks.read' | 'mixer.read' | 'ends.send' | 'tone.sound';
export type BesideSpin =
  | CockpitCall
  | {[O in OwnOperation]: {readonly operation: O; readonly argument: Argument<O>}}[OwnOperation];

const own: ReadonlySet<Operation> = new Set<OwnOperation>([
  'locks.read',
  'tasks.read',
  'mixer.read',
  'ends.send',
  'tone.sound',
]);
export const isBesideSpin = (call: {readonly operation: Operation}): call is BesideSpin =>
  own.has(call.operation) || isOfCockpit(call);

/** The parts of a bench that are asked, and its state at the moment. */
export interface Asked {
  readonly batteryOn: boolean;
  /** Someone holds motors. */
  readonly held: boolean;
  readonly nowMs: number;
  readonly controller: Controller;
  readonly cockpit: Cockpit;
  readonly ends: EndPoints;
  readonly escs: readonly Esc[];
  readonly train: PowerTrain;
  readonly random: Random;
  readonly onTone: (tone: Argument<'tone.sound'>) => void;
}

export const locksOf = ({batteryOn, held, cockpit, nowMs}: Asked) =>
  locksNow({batteryOn, held, silentMs: cockpit.receiver.silentMs(nowMs)});

export function takeBesideSpin(
  call: BesideSpin,
  asked: Asked,
): {readonly value: unknown} | {readonly code: string; readonly text: string} {
  const {controller, escs, batteryOn: on} = asked;
  if (isOfCockpit(call)) {
    const {pending: config, runningSettings: settings} = controller;
    return asked.cockpit.take(call, {config, settings}, asked.nowMs);
  }
  switch (call.operation) {
    case 'mixer.read':
      return {value: controller.mixer};
    case 'locks.read':
      return {value: locksOf(asked)};
    case 'tasks.read': {
      const {running: config, clockMhz} = controller;
      return {value: tasksNow(controller.budget(escs.length), {config, clockMhz, random: asked.random})};
    }
    case 'ends.send': {
      const refused = asked.ends.send(call.argument, {on, analog: !isDigital(controller.running.protocol)});
      return refused ? {code: refused[0], text: refused[1]} : {value: null};
    }
    case 'tone.sound': {
      const refused = whySilent(call.argument, {escs, on, controller, train: asked.train});
      if (refused) return {code: refused[0], text: refused[1]};
      asked.onTone(call.argument);
      return {value: toneMs[call.argument.kind]};
    }
  }
}
