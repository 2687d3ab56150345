/** Writes what docs/ derives from the code: the JSON Schemas and test vectors of docs/formats, the worked frames of docs/bench-link.md. */
import {mkdirSync, readFileSync, writeFileSync} from 'node:fs';
import * as z from 'zod';
import {snapshotShape} from '@core/snapshot/snapshot';
import {conformanceRules} from '@core/conformance/check-adapter';
import {framesInWords, workedFrames} from './link-frames';

const docs = new URL('../docs/', import.meta.url);
const formats = new URL('formats/', docs);
mkdirSync(formats, {recursive: true});
const json = (name: string, value: unknown) =>
  writeFileSync(new URL(name, formats), JSON.stringify(value, null, 2) + '\n');
json('snapshot.schema.json', z.toJSONSchema(snapshotShape));
json('bench-link-frames.json', workedFrames);

const page = new URL('bench-link.md', docs);
const rules = conformanceRules.map(({id, text}) => `- \`${id}\`: ${text}`).join('\n');
writeFileSync(page, filled(filled(readFileSync(page, 'utf8'), 'frames', framesInWords()), 'rules', rules));

/** A page with what stands between the two marks of a section made anew. */
function filled(text: string, section: string, content: string): string {
  const between = new RegExp(`(<!-- ${section} -->\\n)[\\s\\S]*(<!-- end of ${section} -->)`);
  return text.replace(between, (_, begin: string, end: string) => `${begin}\n${content}\n\n${end}`);
}
