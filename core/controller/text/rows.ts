/** The lines of a controller side by side: as found, as planned, and as another text has them. */
import {canonicalJson} from '../../canonical-json';
import type {SettingValue} from '../../link/setting-shapes';
import type {ControllerConfig, ControllerFields, ControllerPlan} from '../plan';
import {entries, headSection, type Entry, type Place, type TextVersion} from './entries';
import {fieldsIn, valueOf} from './field-values';
import {pathOf, shown, type ControllerText, type TextLine} from './read-text';
import {lineFor} from './write-text';

export interface TextRow {
  readonly path: string;
  readonly section: string;
  readonly key: string;
  /** Field of the configuration that it is, or is a part of; empty where nobody knows. */
  readonly field: string;
  /** What is expected there; empty where nobody knows. */
  readonly expected: string;
  readonly meaning: string;
  /** As the text writes them; undefined where a side does not have the line. */
  readonly found: string | undefined;
  readonly plan: string | undefined;
  readonly other: string | undefined;
  /** The other text's own line, where it has one that can be planned. */
  readonly line: TextLine | undefined;
  /** What the other text says of a setting beside the fields, as this firmware takes it; absent where it does not. */
  readonly setting?: SettingValue;
  readonly differs: {readonly foundPlan: boolean; readonly otherPlan: boolean};
}

interface RowsQuestion {
  readonly version: TextVersion;
  readonly found: ControllerConfig | undefined;
  /** With what it is silent about as found, see planOver. */
  readonly plan: ControllerPlan;
  /** Of the same version, carried over where it was not. */
  readonly other: ControllerText | undefined;
}

/** Every line that the version has and one side holds, then what only the other text has. */
export function textRows(q: RowsQuestion): TextRow[] {
  const theirs = new Map((q.other?.lines ?? []).map((l) => [pathOf(l), l]));
  const known = entries.flatMap((entry): TextRow[] => {
    const place = entry.places[q.version];
    if (!place) return [];
    const path = pathOf({section: place.section, key: place.key ?? ''});
    const line = theirs.get(path);
    theirs.delete(path);
    return knownRow(entry, {place, path, line}, q);
  });
  const alone = [...theirs.values()].filter((l) => l.section !== headSection).map((l) => unknownRow(l));
  return [...known, ...alone];
}

interface Placed {
  readonly place: Place;
  readonly path: string;
  /** What the other text says there. */
  readonly line: TextLine | undefined;
}

/** None where no side has the line. */
function knownRow(entry: Entry, {place, path, line}: Placed, {found, plan}: RowsQuestion): TextRow[] {
  const side = (config: Partial<ControllerConfig> | undefined) => {
    const value = config && valueOf(config, entry.field);
    return value === undefined ? undefined : lineFor(place, value, '').value;
  };
  const held = side(found);
  const planned = side(plan) ?? held;
  if (planned === undefined && !line) return [];
  return [
    {
      ...{path, section: place.section, key: place.key ?? '', field: entry.field.split('.')[0]!},
      ...{expected: place.kind.expected, meaning: entry.comment},
      ...{found: told(held), plan: told(planned), other: told(line?.value)},
      line: line && place.kind.takes(line.value) ? line : undefined,
      differs: {
        foundPlan: held !== undefined && !equal(held, planned),
        otherPlan: line !== undefined && !(planned !== undefined && equal(line.value, planned)),
      },
    },
  ];
}

const unknownRow = (l: TextLine): TextRow => ({
  ...{path: pathOf(l), section: l.section, key: l.key, field: '', expected: '', meaning: ''},
  ...{found: undefined, plan: undefined, line: undefined, other: told(l.value)},
  differs: {foundPlan: false, otherPlan: true},
});

/** Plan edits that chosen lines of another text make; parts that they leave out stay as planned. */
export const planFrom = (
  lines: readonly TextLine[],
  version: TextVersion,
  plan: ControllerFields,
): Partial<ControllerPlan> => fieldsIn(lines, version, plan).fields;

const told = (value: TextLine['value'] | undefined) => (value === undefined ? undefined : shown(value));
const equal = (a: unknown, b: unknown) => canonicalJson(a) === canonicalJson(b);
