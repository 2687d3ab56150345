/** The fields of arming as a person reads them, each in one line. */
import {switchUseName, type FailSafe, type Mounting, type Receiver, type Switch} from './arming-fields';

export function mountingText({roll, pitch, yaw}: Mounting): string {
  const turns = [
    ...(yaw ? [`turned by ${yaw}°`] : []),
    ...(pitch ? [`pitched by ${pitch}°`] : []),
    ...(roll ? [`rolled by ${roll}°`] : []),
  ];
  return turns.join(', ') || 'straight ahead, upright';
}

export function receiverText({kind, port, roll, pitch, throttle, yaw, deadBandUs}: Receiver): string {
  const order = `roll ${roll}, pitch ${pitch}, throttle ${throttle}, yaw ${yaw}`;
  return `${kind}${port ? `, port ${port}` : ''}; ${order}; dead band ${deadBandUs} µs`;
}

export const switchesText = (switches: readonly Switch[]): string =>
  switches.map((s) => `${switchUseName[s.use]}: channel ${s.channel}, ${s.fromUs}–${s.toUs} µs`).join('; ') || 'none';

const actions = {drop: 'motors off', hold: 'goes on as before', land: 'comes down slowly'} as const;

export const failSafeText = ({action, afterMs}: FailSafe): string => `${actions[action]} after ${afterMs} ms`;
