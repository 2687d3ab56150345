/** Every line of the controller text, from the definitions of the fields, and the lines about the controller itself. */
import {definedFields, definitions, type FieldLine, type TextVersion} from '../definitions';
import {anyText, numberIn, type Kind} from '../kinds';
export {textVersions, type Place, type TextVersion} from '../definitions';

export interface Entry extends FieldLine {
  /** Way to the value in a configuration, such as mounting.yaw. */
  readonly field: string;
}

export const entries: readonly Entry[] = definedFields.flatMap((field) =>
  definitions[field].lines.map((line) => ({...line, field: line.part ? `${field}.${line.part}` : field})),
);

/** Entry that a line is of, by the places of a version. */
export const entryOf = (
  {section, key}: {readonly section: string; readonly key: string},
  version: TextVersion,
): Entry | undefined =>
  entries.find((e) => e.places[version]?.section === section && (e.places[version].key ?? '') === key);

/** Lines about the controller itself: they say what the text is of and are never written. */
export const headSection = 'controller';
export const headKeys: Readonly<Record<string, Kind>> = {
  firmware: anyText,
  version: anyText,
  board: anyText,
  chip: anyText,
  gyro_hz: numberIn({min: 1, max: 1_000_000, unit: 'Hz'}),
};
