/** Axes that a craft turns about, in the order in which the trade names them. */
export const turnAxes = ['roll', 'pitch', 'yaw'] as const;
export type TurnAxis = (typeof turnAxes)[number];
