/** The configuration that a controller wrote at the top of its own log: the surest word on what a flight was flown with. */
import {controllerConfigSchema, type ControllerConfig} from '../controller/plan';

const mark = /^flown with (\{.*\})$/;

/** Undefined where the log says none, or one that does not read. */
export function flownWith(notes: readonly string[]): ControllerConfig | undefined {
  for (const note of notes) {
    const text = mark.exec(note)?.[1];
    if (text === undefined) continue;
    try {
      const config = controllerConfigSchema.safeParse(JSON.parse(text));
      if (config.success) return config.data;
    } catch {
      // Not JSON: a note like any other.
    }
  }
  return undefined;
}
