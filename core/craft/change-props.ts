/** Propellers in or out as one choice: every motor turns the other way, so the planned rotation of every ESC turns over with it. */
import type {Craft, PlannedValue} from './craft';

export function changeProps(craft: Craft, props: Craft['props']): Craft {
  if (props === craft.props) return craft;
  const rotation = craft.plan.parameters['rotation'];
  const parameters = {...craft.plan.parameters, ...(rotation && {rotation: turnedOver(rotation)})};
  return {...craft, props, plan: {...craft.plan, parameters}};
}

/** "Both ways" has no sense to turn over. */
const other = (value: number): number => (value === 0 ? 1 : value === 1 ? 0 : value);

function turnedOver(planned: PlannedValue): PlannedValue {
  if (planned.kind === 'same') return {...planned, value: other(planned.value)};
  return planned.kind === 'per motor' ? {...planned, values: planned.values.map(other)} : planned;
}
