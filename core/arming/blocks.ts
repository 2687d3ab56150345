/** What keeps a craft from being armed, in words with what to do. */
import type {ArmingBlock} from '../link/operations';

export const blockWords: Readonly<Record<ArmingBlock, string>> = {
  held: 'Bidex is using the bench: the craft stays disarmed until the cable is out.',
  'no-switch': 'No switch is set to arm it: make one by moving it.',
  'switch-on': 'The arming switch is on: a craft arms only when it goes from off to on.',
  'no-frames': 'No frame comes from the receiver: switch the transmitter on.',
  'throttle-high': 'The throttle is not at its low end.',
  tilted: 'It is held tilted by more than 25°.',
  'fail-safe': 'Fail-safe active: no frame within its delay.',
};
