/**
 * How much of the supply an ESC uses while it starts and brakes: shares of a duty, so that currents follow from the motor's
 * own winding. The simulated ESCs obey the same.
 */

/** Share of full duty that a start-up power in µs stands for: it is given as the throttle pulse it allows. */
export const startDuty = (powerUs: number): number => Math.max(0, (powerUs - 1000) / 1000);

/** Duty an ESC allows while it starts, from the lowest power at no throttle to the highest at full throttle, 0…1. */
export const startDutyAt = (throttle: number, lowUs: number, highUs: number): number =>
  startDuty(lowUs) + (Math.max(startDuty(highUs), startDuty(lowUs)) - startDuty(lowUs)) * throttle;

/** Share of the time for which a brake strength in % shorts the winding. */
export const brakeShare = (strength: number): number => strength / 100;

/** Current that a duty pushes through a winding at rest, A, as far as the ESC allows it: V·D/R. */
export const restAmps = (volts: number, duty: number, resistanceOhm: number, limitAmps: number): number =>
  Math.min(limitAmps, (volts * duty) / resistanceOhm);
