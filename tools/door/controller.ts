/** What a controller text holds: `bidex controller`. */
import {TomlDate, type TomlValue} from 'smol-toml';
import {carryText} from '@core/controller/text/carry-text';
import {compareTexts, sectionsOf} from '@core/controller/text/compare-texts';
import {textVersions} from '@core/controller/text/entries';
import {readText as readController, type ControllerText} from '@core/controller/text/read-text';
import {fail, outcome, readText, type Answer, type Run} from './command';

export const run: Run = ({file, options}) => {
  const against = options.get('--against');
  const other = against === undefined ? undefined : readText(against);
  return outcome(describeController({text: readText(file), against: other, to: options.get('--to')}));
};

export interface ControllerQuestion {
  readonly text: string;
  readonly against?: string | undefined;
  readonly to?: string | undefined;
}

/** Faults make the answer not ok, and everything that could be read stands in it all the same. */
export function describeController({text, against, to}: ControllerQuestion): Answer {
  const version = textVersions.find((v) => v === to);
  if (to !== undefined && !version) return fail('to', `--to takes one of ${textVersions.join(', ')}.`);
  const read = readController(text);
  const other = against === undefined ? undefined : readController(against);
  const carried = version && carryText(read, version);
  const value = {
    firmware: read.firmware ?? null,
    version: read.version ?? null,
    sections: sectionsIn(read),
    ...(other && {
      differences: compareTexts(read, other).map((d) => ({...d, from: d.from ?? null, to: d.to ?? null})),
      againstFaults: other.faults,
    }),
    ...(carried && {
      carryOver: {
        ...{from: carried.from, to: carried.to},
        report: carried.report.map(({fate, ...l}) => ({
          ...{fate, from: l.from ?? null, to: l.to ?? null, was: l.was ?? null, is: l.is ?? null, note: l.note},
        })),
        text: carried.text,
      },
    }),
    faults: read.faults,
  };
  return {ok: read.faults.length === 0 && !other?.faults.length, value};
}

const sectionsIn = (text: ControllerText) =>
  sectionsOf(text).map(({name, lines}) => ({
    name,
    keys: lines.map((l) => ({key: l.key, value: plain(l.value), line: l.line, known: l.known})),
  }));

/** As JSON has it: dates and what is no number as texts. */
function plain(value: TomlValue): unknown {
  if (value instanceof TomlDate) return value.toISOString();
  if (Array.isArray(value)) return value.map((v) => plain(v));
  if (typeof value === 'object') return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, plain(v)]));
  if (typeof value === 'bigint' || (typeof value === 'number' && !Number.isFinite(value))) return String(value);
  return value;
}
