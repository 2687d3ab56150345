/** Schema of the settings of an ESC, by parameter. */
import * as z from 'zod';
import {parameterDefinitions, type ParameterKey} from './definitions';

export const settingsSchema = z.partialRecord(
  z.enum(parameterDefinitions.map((d) => d.key) as [ParameterKey, ...ParameterKey[]]),
  z.number(),
);
