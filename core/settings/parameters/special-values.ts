/** Values of parameters that stand for a mode and not for a number. */

/** PWM frequency value that stands for "follows motor speed". */
export const pwmFollows = 0;
/** Timing value that stands for "automatic"; stored as the step after 30°. */
export const timingAutomatic = 37.5;
/** Melody value that stands for the melody kept beside the settings. */
export const ownMelody = 3;
/** Rotation value that stands for "both ways": the motor stops at the middle of the throttle. */
export const bothWays = 2;
