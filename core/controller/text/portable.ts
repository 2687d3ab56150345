/** A controller text that was read, as it passes between threads: dates lose their kind on the way and get it back. */
import {TomlDate, type TomlValue} from 'smol-toml';
import type {ControllerText} from './read-text';

interface PortableDate {
  readonly tomlDate: string;
}

const mapped = (value: unknown, change: (leaf: object) => unknown): unknown => {
  if (typeof value !== 'object' || value === null) return value;
  const changed = change(value);
  if (changed !== undefined) return changed;
  if (Array.isArray(value)) return value.map((v) => mapped(v, change));
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, mapped(v, change)]));
};

const withLines = (text: ControllerText, change: (leaf: object) => unknown): ControllerText => ({
  ...text,
  lines: text.lines.map((l) => ({...l, value: mapped(l.value, change) as TomlValue})),
});

export const portableText = (text: ControllerText): ControllerText =>
  withLines(text, (leaf) =>
    leaf instanceof TomlDate ? ({tomlDate: leaf.toISOString()} satisfies PortableDate) : undefined,
  );

export const arrivedText = (text: ControllerText): ControllerText =>
  withLines(text, (leaf) => {
    const {tomlDate, ...others} = leaf as Partial<PortableDate>;
    return typeof tomlDate === 'string' && !Object.keys(others).length ? new TomlDate(tomlDate) : undefined;
  });
