/** Revolutions per second of every motor over a flight, with lost replies bridged and counted. */
import {toMotorHz, type FlightLog} from '../../flight/flight-log';

export interface MotorSpeeds {
  /** One per motor; 0 where a motor stands. */
  readonly hz: readonly Float32Array[];
  /** Samples of each motor without a reply, bridged along a straight line. */
  readonly bridged: readonly (readonly Bridged[])[];
}

interface Bridged {
  readonly start: number;
  readonly end: number;
}

/** A speed that is gone for longer is a motor that stands, or one that nobody knows about, s. */
const longestBridgeS = 0.1;
/** Both ends of a bridge are the same speed within this share: a motor that lost its step comes back slower. */
const sameSpeed = 0.15;

/** @param loggedPoles the count that the controller had in flight, for mechanical speeds. */
export function motorSpeeds(log: FlightLog, poles: number, loggedPoles = poles): MotorSpeeds {
  const scale = toMotorHz(log.speeds, poles, loggedPoles);
  const longest = Math.max(2, Math.round(longestBridgeS * log.sampleRateHz));
  const bridged: Bridged[][] = [];
  const hz = log.speeds.hz.map((logged) => {
    const out = logged.map((v) => v * scale);
    bridged.push(bridge(out, longest));
    return out;
  });
  return {hz, bridged};
}

function bridge(hz: Float32Array, longest: number): Bridged[] {
  const found: Bridged[] = [];
  for (let i = 1; i < hz.length; i++) {
    if (hz[i]! > 0 || !(hz[i - 1]! > 0)) continue;
    let end = i;
    while (end < hz.length && !(hz[end]! > 0)) end++;
    const [from, to] = [hz[i - 1]!, hz[end] ?? 0];
    if (end - i <= longest && to > 0 && Math.abs(to - from) <= sameSpeed * Math.max(from, to)) {
      for (let k = i; k < end; k++) hz[k] = from + ((to - from) * (k - i + 1)) / (end - i + 1);
      found.push({start: i, end});
    }
    i = end;
  }
  return found;
}
