/** The views of Spin, and what stands before them. */
import {steersByMotors, type Craft} from '../../craft/craft';
import type {Remark} from '../../remark';
import {armedAtRest} from '../armed-at-rest';
import type {CraftQuestion} from '../craft-question';

export type SpinView = 'order' | 'steps' | 'range' | 'mixer' | 'sounds';

interface SpinViewLine {
  readonly value: SpinView;
  readonly label: string;
  /** What the view is for. */
  readonly lead: string;
}

const spinViews: readonly SpinViewLine[] = [
  {
    ...{value: 'order', label: 'Motor order'},
    lead: 'One output at a time. Hold to turn it, then point at what moved. Order and rotation follow from what you saw.',
  },
  {
    ...{value: 'steps', label: 'Steps and cuts'},
    lead: 'One hold, a few seconds. How every motor starts, rises and falls, what it is made of, and which one is odd.',
  },
  {
    ...{value: 'range', label: 'Throttle range'},
    lead: 'Which pulses each ESC takes for none and for full throttle, and how to set them all alike.',
  },
  {
    ...{value: 'mixer', label: 'Mixer'},
    lead: 'What each motor must do for roll, pitch and yaw, from the arms of this craft and the way each turns.',
  },
  {
    ...{value: 'sounds', label: 'Sounds'},
    lead: 'What the motors say after power-up, how loud, and how a lost craft calls.',
  },
];

/** The views that a craft has: where servos steer there is no mixer of motors. */
export const spinViewsOf = (craft: Craft): SpinViewLine[] =>
  spinViews.filter(({value}) => value !== 'mixer' || steersByMotors(craft));

export const spinLead = (view: SpinView): string => spinViews.find(({value}) => value === view)!.lead;

/** What a view needs before it can do its work: the cable in the flight controller, or a connection with a survey. */
export function spinAsks({bench, record}: CraftQuestion, view: SpinView): 'other cable' | 'connection' | undefined {
  if (view === 'mixer') return undefined;
  if (view !== 'sounds' && bench.isConnected && bench.isOnAdapter) return 'other cable';
  return !record.found || !bench.isConnected ? 'connection' : undefined;
}

/** What a person has to know of motors that turn or rest by themselves, in the views where they are looked at. */
export const spinRemarks = (q: CraftQuestion, view: SpinView): readonly Remark[] =>
  view === 'order' || view === 'mixer' ? armedAtRest(q) : [];
