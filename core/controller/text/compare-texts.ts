/** Two controller texts side by side, by sections: every line that one of them has. */
import {canonicalJson} from '../../canonical-json';
import {groupedBySection, pathOf, shown, type ControllerText, type TextLine} from './read-text';

interface TextDifference {
  readonly section: string;
  readonly key: string;
  /** As the text writes it; undefined where that side does not have the line. */
  readonly from: string | undefined;
  readonly to: string | undefined;
}

/** In the order of the first text, then what only the second has. Lines about the controller itself are compared too. */
export function compareTexts(from: ControllerText, to: ControllerText): TextDifference[] {
  const there = new Map(to.lines.map((l) => [pathOf(l), l]));
  const here = new Set(from.lines.map((l) => pathOf(l)));
  const told = (l: TextLine | undefined) => l && shown(l.value);
  const pairs = [
    ...from.lines.map((l) => [l, there.get(pathOf(l))] as const),
    ...to.lines.filter((l) => !here.has(pathOf(l))).map((l) => [undefined, l] as const),
  ];
  return pairs.flatMap(([a, b]) => {
    if (a && b && canonicalJson(a.value) === canonicalJson(b.value)) return [];
    const {section, key} = a ?? b;
    return [{section, key, from: told(a), to: told(b)}];
  });
}

/** Sections of a text in its order, with their lines. */
export function sectionsOf({lines}: Pick<ControllerText, 'lines'>): {name: string; lines: readonly TextLine[]}[] {
  return groupedBySection(lines).map(([name, own]) => ({name, lines: own}));
}
