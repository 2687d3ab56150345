/**
 * Sentences that practitioners had to read twice had these words in them: no text that a person may read has one. Where a
 * word is meant otherwise, it stands in the list of what is meant, with its reason.
 */
import {fileURLToPath} from 'node:url';
import {expect, it} from 'vitest';
import {shownTexts} from './shown-text';

const root = fileURLToPath(new URL('../../', import.meta.url));

/** A word and what to say in its place. */
const words: readonly (readonly [RegExp, string])[] = [
  [/\b(was|were) not \w+( at)? yet\b/i, 'has not been … yet'],
  [
    /\b(motors?|it|they|craft|ESCs?|one) (stands?|stood)\b|\bmust stand\b|\bstands? (still )?(again|still)\b/i,
    'stop, stopped, at rest',
  ],
  [/\bsenses?\b/i, 'direction'],
  [/\bask(s|ed)? (the [\w ]+)?for\b/i, 'requires'],
  [/\bexchang/i, 'replace, swap'],
  [/(?<!there) is no (?!longer\b|more\b)[a-z]/i, 'is not a'],
  [/\bmirrored\b/i, 'aliases down to'],
  [/\b(left|leaves?|leaving) out\b|\bpass(ed|es)? over\b/i, 'skipped, ignored'],
  [/\bonce more\b|\banew\b/i, 'again'],
  [/\bhears?\b|\bheard\b/i, 'receives, detects'],
  [/\btells?\b|\btold\b/i, 'reports, shows, returns'],
  [/\busual(ly)?\b/i, 'default, typical'],
  [/\bproofs? (holds?|held|void)\b|\b(held|void) (of|by) a proof\b/i, 'current, proven earlier, no longer valid'],
  [/\bspoil(t|ed|s)?\b/i, 'corrupted'],
  [/\b(has|have|holds?) the (wires|bench)\b/i, 'is using the connection'],
  [/\bmiddle value\b/i, 'median'],
  [/\broads?\b/i, 'connection, route'],
  [/\b(dark|light) sheet\b/i, 'dark theme, light theme'],
  [/\bbring (\w+ ){0,2}in\b/i, 'restore, import, add'],
  [/\btak(e|es|en) (\w+ )?away\b/i, 'delete, remove'],
  [/\bruns ahead of\b/i, 'phase lead'],
  [/\bby calculation\b/i, 'calculated'],
  [/\bnone (above|below)\b/i, 'at least, at most'],
  [/\bnobody\b/i, 'name what is missing'],
  [/\bshall\b/i, 'should, will'],
];

/** Where such a word is meant otherwise. */
const meant: readonly {readonly file: string; readonly text: string; readonly why: string}[] = [
  {file: 'core/bench/grounds.ts', text: 'asked for', why: 'the key of a ground in kept records, never shown'},
];

it('no text that a person may read has a word that has to be read twice', () => {
  const texts = shownTexts(root, ['core', 'app']);
  expect(texts.length).toBeGreaterThan(2000);
  const isMeant = (shown: {file: string; text: string}) =>
    meant.some(({file, text}) => file === shown.file && text === shown.text);
  expect(meant.filter(({file, text}) => !texts.some((t) => t.file === file && t.text === text))).toEqual([]);
  const found = texts
    .filter((t) => !isMeant(t))
    .flatMap(({file, line, text}) =>
      words.flatMap(([word, say]) => (word.test(text) ? [`${file}:${line}: ${text}\n    say: ${say}`] : [])),
    );
  expect(found).toEqual([]);
});
