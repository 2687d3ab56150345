/** Writes what docs/ derives from the code: the JSON Schemas and test vectors of docs/formats, the worked frames of docs/bench-link.md. */
import {mkdirSync, readFileSync, writeFileSync} from 'node:fs';
import * as z from 'zod';
import {snapshotSchema} from '@core/snapshot/snapshot';
import {conformanceRules} from '@core/conformance/check-adapter';
import {groupedBySection} from '@core/controller/text/read-text';
import {writeText} from '@core/controller/text/write-text';
import {entries, textVersions, type Entry, type TextVersion} from '@core/controller/text/entries';
import {configFromWire} from '@core/controller/wire';
import {juniperController} from '@simulator/benches/juniper';
import {framesInWords, workedFrames} from './link-frames';

const docs = new URL('../docs/', import.meta.url);
const formats = new URL('formats/', docs);
mkdirSync(formats, {recursive: true});
const json = (name: string, value: unknown) =>
  writeFileSync(new URL(name, formats), JSON.stringify(value, null, 2) + '\n');
json('snapshot.schema.json', z.toJSONSchema(snapshotSchema));
json('bench-link-frames.json', workedFrames);

const worked = {firmware: 'Plumb', version: '2.2', board: 'Slate F', chip: 'F7 class'};
writeFileSync(new URL('controller-text.toml', formats), writeText(configFromWire(juniperController), worked, '2.2'));

const rules = conformanceRules.map(({id, text}) => `- \`${id}\`: ${text}`).join('\n');
fill('bench-link.md', 'frames', framesInWords());
fill('bench-link.md', 'rules', rules);
fill('controller-text.md', 'lines', linesInWords());

/** Every line of the controller text and where each version keeps it. */
function linesInWords(): string {
  const place = ({places}: Entry, version: TextVersion) => {
    const at = places[version];
    return at ? `\`${[at.section, at.key].filter(Boolean).join('.')}\`` : '–';
  };
  const newest = textVersions.at(-1)!;
  const rows = groupedBySection(entries.map((e) => ({...e, section: e.places[newest]!.section})))
    .flatMap(([, own]) => own)
    .map((e) => {
      const {kind} = e.places[newest]!;
      return `| ${textVersions.map((v) => place(e, v)).join(' | ')} | ${kind.expected} | ${e.comment} |`;
    });
  const head = `| ${textVersions.map((v) => `Plumb ${v}`).join(' | ')} | takes | meaning |`;
  return [head, `|${' --- |'.repeat(textVersions.length + 2)}`, ...rows].join('\n');
}

function fill(name: string, section: string, content: string): void {
  const page = new URL(name, docs);
  writeFileSync(page, filled(readFileSync(page, 'utf8'), section, content));
}

/** A page with what stands between the two marks of a section made anew. */
function filled(text: string, section: string, content: string): string {
  const between = new RegExp(`(<!-- ${section} -->\\n)[\\s\\S]*(<!-- end of ${section} -->)`);
  return text.replace(between, (_, begin: string, end: string) => `${begin}\n${content}\n\n${end}`);
}
