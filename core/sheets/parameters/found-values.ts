/** Values of one parameter as found, motor by motor, against the plan. */
import {formatValue, type ParameterDefinition} from '../../settings/definitions';

/** Whether a value is another than planned; where nothing is planned, none is. */
export const isOffPlan = (found: number | undefined, planned: number | undefined): boolean =>
  found !== undefined && planned !== undefined && planned !== found;

/** All of them in one sentence, for those who hear the screen. */
export const spokenValues = (
  definition: ParameterDefinition,
  found: readonly (number | undefined)[],
  planned: readonly (number | undefined)[],
): string =>
  found
    .map((v, i) => {
      const value = v === undefined ? 'not found' : formatValue(definition, v);
      return `motor ${i + 1}: ${value}${isOffPlan(v, planned[i]) ? ', off the plan' : ''}`;
    })
    .join('; ');
