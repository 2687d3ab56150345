/** Currents that ESC firmware of the families we know allows itself. Our own figures; the simulated ESCs obey them. */

/** Largest braking current at full brake strength, A. */
export const fullBrakeAmps = 0.8;

/** Current while starting at a start-up power in µs, A: 0.1 A for each µs above 1000. */
export const startAmps = (powerUs: number): number => (powerUs - 1000) * 0.1;
