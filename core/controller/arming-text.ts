/** The fields of arming as a person reads them, each in one line. */
import type {ControllerPlan} from './plan';
import {switchUseName} from './arming-fields';

type ArmingFields = Pick<ControllerPlan, 'mounting' | 'receiver' | 'switches' | 'failSafe'>;

/** One field of them. */
export function armingText({mounting, receiver, switches, failSafe}: ArmingFields): string {
  if (mounting) return turned(mounting);
  if (receiver) {
    const {kind, port, roll, pitch, throttle, yaw, deadBandUs} = receiver;
    const order = `roll ${roll}, pitch ${pitch}, throttle ${throttle}, yaw ${yaw}`;
    return `${kind}${port ? `, port ${port}` : ''}; ${order}; dead band ${deadBandUs} µs`;
  }
  if (failSafe) return `${actions[failSafe.action]} after ${failSafe.afterMs} ms`;
  if (!switches?.length) return 'none';
  return switches.map((s) => `${switchUseName[s.use]}: channel ${s.channel}, ${s.fromUs}–${s.toUs} µs`).join('; ');
}

const actions = {drop: 'motors off', hold: 'goes on as before', land: 'comes down slowly'} as const;

function turned({roll, pitch, yaw}: {readonly roll: number; readonly pitch: number; readonly yaw: number}): string {
  const turns = [
    ...(yaw ? [`turned by ${yaw}°`] : []),
    ...(pitch ? [`pitched by ${pitch}°`] : []),
    ...(roll ? [`rolled by ${roll}°`] : []),
  ];
  return turns.join(', ') || 'straight ahead, upright';
}
