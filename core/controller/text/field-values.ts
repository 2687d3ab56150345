/** Fields of a configuration by their way into it, and as lines of the text. */
import type {TomlValue} from 'smol-toml';
import {controllerPlanSchema, type ControllerConfig, type ControllerFields, type ControllerPlan} from '../plan';
import {usualOf} from '../definitions';
import {entryOf, type TextVersion} from './entries';
import type {TextLine} from './read-text';

type Tree = Readonly<Record<string, unknown>>;

/** Value of a field, undefined where the configuration does not have it. Switches read with the names of the text. */
export function valueOf(config: Partial<ControllerConfig>, field: string): TomlValue | undefined {
  if (field === 'switches')
    return config.switches?.map(({use, channel, fromUs, toUs}) => ({use, channel, from_us: fromUs, to_us: toUs}));
  const value = field.split('.').reduce<unknown>((tree, name) => (tree as Tree | undefined)?.[name], config);
  return value as TomlValue | undefined;
}

/** Fields that lines of a text say, each a whole value; a part of one that a text leaves out comes from `base`. */
export function fieldsIn(
  lines: readonly TextLine[],
  version: TextVersion,
  base: Partial<ControllerFields>,
): {readonly fields: Partial<ControllerPlan>; readonly used: readonly TextLine[]} {
  const tree: Record<string, unknown> = {};
  const used: TextLine[] = [];
  for (const line of lines) {
    const entry = entryOf(line, version);
    const place = entry?.places[version];
    if (!entry || !place?.kind.takes(line.value)) continue;
    put(tree, entry.field, place.fromLine ? place.fromLine(line.value) : line.value, base);
    used.push(line);
  }
  const fields: Record<string, unknown> = {};
  for (const [name, value] of Object.entries(tree)) {
    const shape = controllerPlanSchema.shape[name as keyof ControllerPlan];
    const read = shape.safeParse(value);
    if (read.success) fields[name] = read.data;
  }
  return {fields: fields, used: used.filter((l) => nameOf(l, version) in fields)};
}

const nameOf = (line: TextLine, version: TextVersion) => entryOf(line, version)!.field.split('.')[0]!;

function put(tree: Record<string, unknown>, field: string, value: TomlValue, base: Partial<ControllerFields>): void {
  if (field === 'switches') {
    tree['switches'] = (value as Record<string, TomlValue>[]).map((s) => ({
      ...{use: s['use'], channel: s['channel'], fromUs: s['from_us'], toUs: s['to_us']},
    }));
    return;
  }
  const [name, part] = field.split('.') as [string, string | undefined];
  if (part === undefined) tree[name] = value;
  else {
    const whole = (tree[name] ?? base[name as keyof ControllerFields] ?? usualOf(name as keyof ControllerPlan)) as Tree;
    tree[name] = {...whole, [part]: value};
  }
}
